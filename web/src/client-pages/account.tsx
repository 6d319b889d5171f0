import { Button } from "antd";
import { clsx } from "clsx";
import type { ReactNode } from "react";
import { Do } from "../frame/do";
import { Refused } from "../frame/state";
import { Title } from "../frame/title";
import { type AccountWords, accountWords } from "./account-words";
import clientCss from "./client.module.css";
import clientAccountCss from "./client-account.module.css";
import { type Account, saveStatement, useAccount, useAccountActs } from "./use-account";
import { useSecret } from "./use-link";

/** All that a client has with the firm, for whoever has opened it with a code. */
export function AccountPage() {
  const secret = useSecret();
  const account = useAccount(secret);
  const acts = useAccountActs(secret);
  const w = accountWords(account.data?.language ?? navigator.language.slice(0, 2));
  if (acts.close.isSuccess) return <Closed title={w.all}>{w.closed}</Closed>;
  if (account.error && !account.data) return <Closed title={w.over}>{account.error.message}</Closed>;
  if (!account.data) return null;
  return (
    <main className={clientCss.clientPage} lang={account.data.language}>
      <AccountView account={account.data} acts={acts} secret={secret} words={w} />
    </main>
  );
}

function Closed({ title, children }: { title: string; children: ReactNode }) {
  return (
    <main className={clientCss.clientPage}>
      <Title of="a link">{title}</Title>
      <p>{children}</p>
    </main>
  );
}

interface Props {
  account: Account;
  acts: ReturnType<typeof useAccountActs>;
  secret: string;
  words: AccountWords;
}

function AccountView({ account, acts, secret, words: w }: Props) {
  const problem = [acts.invoice, acts.proposal, acts.questions, acts.end, acts.close].find((act) => act.error)?.error;
  return (
    <>
      <header>
        {account.logo ? (
          <img src={account.logo} alt={account.firm} />
        ) : (
          <b style={{ color: account.colour }}>{account.firm}</b>
        )}
        <span className="soft">{account.name}</span>
      </header>
      <Title of={account.firm}>{account.client}</Title>
      <Refused by={problem} />
      <Balances account={account} secret={secret} words={w} />
      <Part title={w.proposals} rows={account.proposals}>
        {(one) => (
          <Row key={one.id} opens={() => acts.proposal.mutate(one.id)} name={one.title}>
            {w.until} {one.until}
          </Row>
        )}
      </Part>
      <Part title={w.questions} rows={account.questionnaires}>
        {(one) => <Row key={one.id} opens={() => acts.questions.mutate(one.id)} name={one.name} />}
      </Part>
      <Invoices title={w.open} rows={account.open} words={w} onOpen={acts.invoice.mutate} empty />
      <Part title={w.deposits} rows={account.deposits}>
        {(one) => (
          <Row key={one.number} name={`${one.number}, ${one.text}`} amount={one.amount}>
            {w.due} {one.due}
          </Row>
        )}
      </Part>
      <Part title={w.held} rows={account.held}>
        {(one) => <Row key={one.what} name={one.what} amount={one.amount} />}
      </Part>
      <Agreements account={account} words={w} />
      <Part title={w.ways} rows={account.ways}>
        {(one) => (
          <Row key={one.id} name={one.words}>
            {w.since} {one.since} <Do onClick={() => acts.end.mutate(one.id)}>{w.end}</Do>
          </Row>
        )}
      </Part>
      <Invoices title={w.settled} rows={account.settled} words={w} onOpen={acts.invoice.mutate} />
      <p className={clientCss.clientActs}>
        <Button size="large" onClick={() => acts.close.mutate()}>
          {w.close}
        </Button>
      </p>
    </>
  );
}

/** How the client stands with each entity and currency, and the statement of it. */
function Balances({ account, secret, words: w }: { account: Account; secret: string; words: AccountWords }) {
  return (
    <Part title={w.balance} rows={account.accounts}>
      {(one) => (
        <Row key={`${one.entityId} ${one.currency}`} name={one.entity} amount={one.balance}>
          {one.late && (
            <span className="lost">
              {one.late} {w.late}
            </span>
          )}{" "}
          <Do onClick={() => saveStatement(secret, one)}>{w.statement}</Do>
        </Row>
      )}
    </Part>
  );
}

interface InvoicesProps {
  title: string;
  rows: Account["open"];
  words: AccountWords;
  onOpen: (id: number) => void;
  /** It is said that there is none. */
  empty?: boolean;
}

function Invoices({ title, rows, words: w, onOpen, empty }: InvoicesProps) {
  if (rows.length === 0 && !empty) return null;
  return (
    <Part title={title} rows={rows} none={w.nothing}>
      {(one) => (
        <Row key={one.id} opens={() => onOpen(one.id)} name={one.number} amount={one.open || one.total}>
          {one.credit && `${w.credit}, `}
          {one.dated}
          {one.what && `, ${w.for} ${one.what}`}
          {one.open && (
            <span className={clsx(one.late && "lost")}>
              , {w.due} {one.due}
            </span>
          )}
        </Row>
      )}
    </Part>
  );
}

function Agreements({ account, words: w }: { account: Account; words: AccountWords }) {
  return (
    <Part title={w.agreements} rows={account.agreements}>
      {(one) => (
        <li key={one.title} className={clientAccountCss.agreed}>
          <b>{one.title}</b>
          {one.bills.length === 0 ? (
            <p className="soft">{w.no_bills}</p>
          ) : (
            <details>
              <summary>{w.bills}</summary>
              <ul>
                {one.bills.map((bill, at) => (
                  // biome-ignore lint/suspicious/noArrayIndexKey: what is planned does not move
                  <Row key={at} name={bill.text} amount={bill.amount}>
                    {bill.day || w.reached}
                  </Row>
                ))}
              </ul>
            </details>
          )}
        </li>
      )}
    </Part>
  );
}

interface PartProps<T> {
  title: string;
  rows: T[];
  /** What is said where there is none; else the part is left out. */
  none?: string;
  children: (row: T) => ReactNode;
}

function Part<T>({ title, rows, none, children }: PartProps<T>) {
  if (rows.length === 0 && !none) return null;
  return (
    <section aria-label={title} className={clientAccountCss.part}>
      <h2 className="sub">{title}</h2>
      {rows.length === 0 ? <p className="soft">{none}</p> : <ul>{rows.map(children)}</ul>}
    </section>
  );
}

interface RowProps {
  name: string;
  amount?: string;
  /** It opens as a page of its own. */
  opens?: () => void;
  children?: ReactNode;
}

function Row({ name, amount, opens, children }: RowProps) {
  return (
    <li className={clientAccountCss.row}>
      <span>
        {opens ? <Do onClick={opens}>{name}</Do> : name}
        <span className="under">{children}</span>
      </span>
      <span className="figure">{amount}</span>
    </li>
  );
}
