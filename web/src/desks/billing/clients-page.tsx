import { clsx } from "clsx";
import { useState } from "react";
import { useSession } from "../../api/session";
import clientCss from "../../client-pages/client.module.css";
import { InvoiceView } from "../../client-pages/invoice";
import { SaidDate } from "../../frame/sentence";
import documentCss from "./document.module.css";
import type { Invoice } from "./use-billing";
import { useClientsPage } from "./use-delivery";

/** Exactly the page that the client gets, as it would be on a day. */
export function ClientsPage({ invoice }: { invoice: Invoice }) {
  const { today } = useSession();
  const [on, setOn] = useState(today);
  const page = useClientsPage(invoice.id, on);
  return (
    <>
      <p>
        As it is on <SaidDate label="As it is on" value={on} onChange={setOn} />
      </p>
      {page.data && (
        <div className={clsx(clientCss.clientPage, documentCss.clientsPage)} lang={page.data.printed.language}>
          <InvoiceView page={page.data} />
        </div>
      )}
    </>
  );
}
