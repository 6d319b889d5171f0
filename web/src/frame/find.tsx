import { Input } from "antd";
import { clsx } from "clsx";
import { type KeyboardEvent, useState } from "react";
import { useNavigate } from "react-router";
import type { Schema } from "../api/client";
import { useRead } from "../api/read";
import { useSession } from "../api/session";
import { Dialog } from "./dialog";
import findCss from "./find.module.css";
import formCss from "./form/form.module.css";
import { useSignOut } from "./sign-out";

interface Hit {
  key: string;
  title: string;
  beside: string;
  go: () => void;
}

/** One place to find or do anything. */
export function Find({ onClose }: { onClose: () => void }) {
  const [text, setText] = useState("");
  const [acts] = useState(actsOfTheScreen);
  const [at, setAt] = useState(0);
  const hits = useHits(text, acts);
  const chosen = Math.min(at, hits.length - 1);
  const open = (hit: Hit | undefined) => {
    hit?.go();
    if (hit) onClose();
  };
  const onKeyDown = (event: KeyboardEvent) => {
    if (event.key === "ArrowDown") setAt(Math.min(chosen + 1, hits.length - 1));
    else if (event.key === "ArrowUp") setAt(Math.max(chosen - 1, 0));
    else if (event.key === "Enter") open(hits[chosen]);
    else return;
    event.preventDefault();
  };
  return (
    <Dialog title="Find" untitled width={560} onNo={onClose}>
      <Input
        className={findCss.find}
        variant="borderless"
        placeholder="A client, an engagement, a number, or where to go"
        aria-label="Find"
        role="combobox"
        aria-expanded
        aria-controls="found"
        aria-activedescendant={hits[chosen]?.key}
        value={text}
        onChange={(event) => {
          setText(event.target.value);
          setAt(0);
        }}
        onKeyDown={onKeyDown}
      />
      <div id="found" role="listbox" aria-label="What was found" className={findCss.found}>
        {hits.map((hit, index) => (
          <button
            type="button"
            key={hit.key}
            id={hit.key}
            role="option"
            aria-selected={index === chosen}
            className={index === chosen ? clsx("chosen", findCss.hit) : findCss.hit}
            onClick={() => open(hit)}
          >
            <span>{hit.title}</span>
            <span className="soft">{hit.beside}</span>
          </button>
        ))}
        {hits.length === 0 && <p className="soft">Nothing of that name. Try a part of it, or a number.</p>}
      </div>
    </Dialog>
  );
}

const pathOf: Record<Schema["Found"]["kind"], (id: number) => string> = {
  client: (id) => `/clients/${id}`,
  contact: (id) => `/clients/${id}`,
  engagement: (id) => `/engagements/${id}`,
  person: (id) => `/set-up/people?open=${id}`,
  invoice: (id) => `/billing/${id}`,
  proposal: (id) => `/pricing/${id}`,
};

/** What can be done on the screen that is open: its buttons, by their words. */
function actsOfTheScreen(): Hit[] {
  const buttons = document.querySelectorAll<HTMLButtonElement>(
    `main .ant-btn, main h2 .link, main .${formCss.ending} .link`,
  );
  return [...buttons].flatMap((button, at) => {
    const title = button.innerText.trim();
    if (!title || button.disabled || !button.checkVisibility()) return [];
    return [{ key: `act-${at}`, title, beside: "on this screen", go: () => setTimeout(() => button.click()) }];
  });
}

function useHits(text: string, acts: Hit[]): Hit[] {
  const navigate = useNavigate();
  const signOut = useSignOut();
  const { role, limited } = useSession();
  const asked = text.trim();
  const found = useRead("/api/find", { query: { text: asked } }, { when: asked.length > 1 });
  const to = (path: string) => () => navigate(path);
  const places = [
    { key: "time", title: "My week", beside: "Time", go: to("/time") },
    { key: "entries", title: "Time entries", beside: "Time", go: to("/time/list") },
    { key: "expenses", title: "Expenses", beside: "Time", go: to("/time/expenses") },
    { key: "new-expense", title: "New expense", beside: "Time", go: to("/time/expenses/new") },
    { key: "account", title: "My account", beside: "", go: to("/account") },
    { key: "signout", title: "Sign out", beside: "", go: signOut },
  ];
  if (role !== "staff") {
    places.unshift(
      { key: "pricing", title: "Proposals", beside: "Pricing", go: to("/pricing") },
      { key: "weeks", title: "Everybody’s weeks", beside: "Time", go: to("/time/people") },
      { key: "wip", title: "What can be billed", beside: "Work in progress", go: to("/wip") },
      { key: "drafts", title: "Drafts", beside: "Billing", go: to("/billing") },
      { key: "register", title: "Register of invoices", beside: "Billing", go: to("/billing?show=register") },
      { key: "clients", title: "Clients", beside: "", go: to("/clients") },
    );
  }
  if (role === "administrator" || role === "owner")
    places.push(
      { key: "owed", title: "What is owed", beside: "Receivables", go: to("/receivables") },
      { key: "payments", title: "Payments", beside: "Receivables", go: to("/receivables?show=payments") },
      {
        key: "reconcile",
        title: "Reconcile the clients’ account",
        beside: "Receivables",
        go: to("/receivables?show=reconcile"),
      },
      { key: "out", title: "To pay out", beside: "Receivables", go: to("/receivables?show=out") },
      { key: "late", title: "Late charges", beside: "Receivables", go: to("/receivables?show=late") },
      { key: "lost", title: "Bad debt", beside: "Receivables", go: to("/receivables?show=lost") },
      { key: "held", title: "Held for clients", beside: "Receivables", go: to("/receivables?show=funds") },
      { key: "deposits", title: "Deposits", beside: "Receivables", go: to("/receivables?show=deposits") },
      { key: "transfers", title: "Transfers to make", beside: "Receivables", go: to("/receivables?show=transfers") },
      { key: "set-up", title: "Set-up", beside: "", go: to("/set-up") },
      { key: "people", title: "People", beside: "Set-up", go: to("/set-up/people") },
      { key: "rates", title: "Rates", beside: "Set-up", go: to("/set-up/rates") },
      { key: "services", title: "Services", beside: "Set-up", go: to("/set-up/services") },
      { key: "categories", title: "Expense categories", beside: "Set-up", go: to("/set-up/expense-categories") },
    );
  if (role === "administrator" || role === "lead")
    places.push({ key: "new-proposal", title: "New proposal", beside: "Pricing", go: to("/pricing?new=yes") });
  if (role === "administrator")
    places.push(
      { key: "new-invoice", title: "New invoice", beside: "Billing", go: to("/billing/new") },
      { key: "new-payment", title: "New payment", beside: "Receivables", go: to("/receivables?pay=1") },
      { key: "new-client", title: "New client", beside: "Clients", go: to("/clients?new=yes") },
      { key: "new-engagement", title: "New engagement", beside: "Set-up", go: to("/set-up/engagements?new=yes") },
      { key: "new-person", title: "New person", beside: "Set-up", go: to("/set-up/people?new=yes") },
      { key: "new-service", title: "New service", beside: "Set-up", go: to("/set-up/services?new=yes") },
      { key: "import", title: "Read from a file", beside: "Set-up", go: to("/set-up/import") },
    );
  if (role === "administrator" && limited.length === 0)
    places.push(
      { key: "letters", title: "Letters", beside: "what went to clients", go: to("/letters") },
      { key: "mails", title: "Mails", beside: "the stand-in's mailbox", go: to("/mails") },
      { key: "security", title: "Security log", beside: "Set-up", go: to("/set-up/security") },
    );
  const matching = [...acts, ...places].filter((place) =>
    `${place.title} ${place.beside}`.toLowerCase().includes(asked.toLowerCase()),
  );
  const hits = (found.data ?? []).map((hit) => ({
    key: `${hit.kind}-${hit.id}`,
    title: hit.title,
    beside: hit.beside,
    go: to(pathOf[hit.kind](hit.id)),
  }));
  return [...hits, ...matching];
}
