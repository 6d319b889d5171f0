import { Button } from "antd";
import { useState } from "react";
import { Link, useNavigate } from "react-router";
import type { Schema } from "../../api/client";
import { useRead } from "../../api/read";
import deskCss from "../../frame/desk.module.css";
import { Money, Sums } from "../../frame/figure";
import { days, money, text } from "../../frame/list/columns";
import { List } from "../../frame/list/list";
import { type Column, useList } from "../../frame/list/use-list";
import { Tally, TallySum } from "../../frame/tally";
import { Title } from "../../frame/title";
import { PurchaseFolio } from "./purchase-folio";
import { TimeViews } from "./time-views";

type Purchase = Schema["PurchaseLeft"];

/** Purchases of which something is on no engagement yet, with what is left to be used. */
export function LeftDesk() {
  const read = useRead("/api/purchases/left");
  const navigate = useNavigate();
  const [open, setOpen] = useState(0);
  const rows = read.data ?? [];
  const list = useList({
    name: "purchases.left",
    rows,
    columns,
    id: (purchase) => purchase.id,
    text: (purchase) => [purchase.supplier, purchase.text, purchase.category, purchase.person].join(" "),
    onMove: (purchase) => setOpen(purchase.id),
  });
  return (
    <>
      <div className={deskCss.deskMain}>
        <Title views={<TimeViews />}>Not used up</Title>
        <p className="soft">
          What was bought and is on no engagement yet, or not all of it. Open one to use some of it: each use has its
          own day.
        </p>
        <List
          main
          label="Purchases"
          list={list}
          read={read}
          onOpen={(purchase) => navigate(`/time/expenses/${purchase.id}`)}
          empty={<p>Everything that was bought is used on engagements.</p>}
        />
      </div>
      <PurchaseFolio id={open || (rows[0]?.id ?? 0)} />
      <Tally
        of={read}
        actions={
          <Button type="primary" onClick={() => navigate("/time/expenses/new")}>
            Record an expense
          </Button>
        }
      >
        <TallySum figure={rows.length} what={rows.length === 1 ? "purchase" : "purchases"} />
        <TallySum
          figure={<Sums label="Left" parts={rows.map((p) => ({ of: p.text || p.supplier, amount: p.left }))} />}
          what="left, at cost"
        />
      </Tally>
    </>
  );
}

const columns: Column<Purchase>[] = [
  days<Purchase>("Bought", (p) => p.day),
  text<Purchase>("Who", (p) => p.initials, { title: (p) => p.person }),
  text<Purchase>("Category", (p) => p.category),
  text<Purchase>("What", (p) => p.text || p.supplier, {
    names: "light",
    cell: (p) => (
      <Link to={`/time/expenses/${p.id}`} className="quiet" tabIndex={-1}>
        {p.text || p.supplier}
      </Link>
    ),
  }),
  text<Purchase>("Units", (p) => p.units, { number: true }),
  money<Purchase>("Cost", (p) => p.cost),
  money<Purchase>("Used", (p) => p.used),
  money<Purchase>("Left", (p) => p.left, {
    cell: (p) => (
      <b>
        <Money of={p.left} />
      </b>
    ),
  }),
];
