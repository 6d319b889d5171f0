import { useInfiniteQuery } from "@tanstack/react-query";
import { Button } from "antd";
import { clsx } from "clsx";
import { Link, useSearchParams } from "react-router";
import { api, type Schema } from "../../api/client";
import { browserName } from "../../frame/browser";
import { instant } from "../../frame/days";
import deskCss from "../../frame/desk.module.css";
import formCss from "../../frame/form/form.module.css";
import { Table } from "../../frame/list/table";
import type { Column } from "../../frame/list/use-list";
import { SaidChoice, Sentence } from "../../frame/sentence";
import { Refused } from "../../frame/state";
import tableCss from "../../frame/table.module.css";
import { Title } from "../../frame/title";

const kinds = [
  { value: "", label: "everything" },
  { value: "signed in", label: "sign-ins" },
  { value: "wrong password or code", label: "wrong passwords and codes" },
  { value: "refused", label: "what was refused" },
  { value: "exported", label: "exports" },
  { value: "read bank details", label: "looks at bank details" },
  { value: "guarded change", label: "changes of bank details, roles and limits" },
  { value: "account changed", label: "changes of accounts" },
  { value: "signed out", label: "sign-outs" },
];
/** What stands in a line, where the word for it in a choice says more than one. */
const words: Record<string, string> = {
  "guarded change": "changed bank details, a role or a limit",
  "account changed": "an account was changed",
  "read bank details": "looked at bank details",
  "wrong password or code": "a wrong password or code",
};
const page = 200;

const columns: Column<Schema["SecurityLine"]>[] = [
  { name: "When", whole: true, cell: (line) => instant(line.at) },
  { name: "Who", cell: (line) => line.person || line.account || "nobody known" },
  {
    name: "What",
    tone: () => tableCss.wraps,
    cell: (line) => (
      <>
        {words[line.kind] ?? line.kind}
        {line.said && <span className="under">{line.said}</span>}
      </>
    ),
  },
  {
    name: "From",
    tone: () => tableCss.wraps,
    cell: (line) => (
      <>
        {line.address || "the program"}
        {line.browser && <span className="under">{browserName(line.browser)}</span>}
      </>
    ),
  },
];

/** Who signed in from where, what was refused, what left the house: written as it happens, and never changed. */
export function SecurityDesk() {
  const [search, setSearch] = useSearchParams();
  const kind = search.get("kind") ?? "";
  const log = useInfiniteQuery({
    queryKey: ["security-log", kind],
    queryFn: ({ pageParam }) => api.get("/api/security-log", { query: { before: pageParam, kind } }),
    initialPageParam: 0,
    getNextPageParam: (last) => (last.length < page ? undefined : last[last.length - 1]?.id),
  });
  const lines = log.data?.pages.flat() ?? [];
  return (
    <div className={clsx(deskCss.deskMain, deskCss.scrolls)}>
      <Title>Security log</Title>
      <Sentence>
        Of all that was written down,{" "}
        <SaidChoice
          label="What is shown"
          value={kind}
          choices={kinds}
          onChange={(value) => setSearch(value ? { kind: value } : {}, { replace: true })}
        />
        , the latest first. <Link to="/set-up">Set-up</Link>
      </Sentence>
      <Refused by={log.error} />
      {log.data && lines.length === 0 && <p className={deskCss.empty}>Nothing of this yet.</p>}
      {lines.length > 0 && <Table rows={lines} columns={columns} id={(line) => line.id} />}
      {log.hasNextPage && (
        <p className={formCss.buttons}>
          <Button loading={log.isFetchingNextPage} onClick={() => log.fetchNextPage()}>
            Show earlier ones
          </Button>
        </p>
      )}
    </div>
  );
}
