import { useQuery } from "@tanstack/react-query";
import { api, of } from "../api/client";
import { instant } from "./days";

/** Who did what to an entry or an invoice, and when; latest first. */
export function History({ subject, id }: { subject: "time-entries" | "invoices"; id: number }) {
  const history = useQuery({
    queryKey: ["history", subject, id],
    queryFn: () =>
      subject === "invoices"
        ? of(api.GET("/api/invoices/{id}/history", { params: { path: { id } } }))
        : of(api.GET("/api/time-entries/{id}/history", { params: { path: { id } } })),
  });
  return (
    <section aria-label="History" className="history">
      <h3>History</h3>
      <ol>
        {(history.data ?? []).map((row) => (
          <li key={row.at + row.summary}>
            {row.summary}
            {row.reason && `, because ${row.reason}`}
            <span className="soft">
              {row.who}, {instant(row.at)}
            </span>
          </li>
        ))}
      </ol>
    </section>
  );
}
