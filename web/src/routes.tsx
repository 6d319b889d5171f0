import { createBrowserRouter, Navigate } from "react-router";
import { Broken } from "./frame/broken";
import { Frame } from "./frame/frame";
import { Home } from "./frame/home";

/** Each desk is loaded when it is first opened. */
export const router = createBrowserRouter([
  {
    ErrorBoundary: Broken,
    children: [
      { path: "/sign-in", lazy: async () => ({ Component: (await import("./desks/sign-in/desk")).SignIn }) },
      { path: "/start", lazy: async () => ({ Component: (await import("./desks/start/desk")).StartDesk }) },
      { path: "/welcome", lazy: async () => ({ Component: (await import("./desks/welcome/desk")).WelcomeDesk }) },
      { path: "/proposal", lazy: async () => ({ Component: (await import("./client-pages/proposal")).ProposalPage }) },
      { path: "/invoice", lazy: async () => ({ Component: (await import("./client-pages/invoice")).InvoicePage }) },
      { path: "/client", lazy: async () => ({ Component: (await import("./client-pages/account")).AccountPage }) },
      { path: "/ours", lazy: async () => ({ Component: (await import("./client-pages/ours")).OursPage }) },
      {
        path: "/questions",
        lazy: async () => ({ Component: (await import("./client-pages/questions")).QuestionsPage }),
      },
      {
        path: "/",
        Component: Frame,
        children: [
          {
            ErrorBoundary: Broken,
            children: [
              { index: true, Component: Home },
              {
                path: "pricing",
                lazy: async () => ({ Component: (await import("./desks/pricing/desk")).PricingDesk }),
              },
              {
                path: "pricing/:id",
                lazy: async () => ({ Component: (await import("./desks/pricing/editor")).ProposalDesk }),
              },
              {
                path: "letters",
                lazy: async () => ({ Component: (await import("./desks/letters/desk")).LettersDesk }),
              },
              { path: "mails", lazy: async () => ({ Component: (await import("./desks/mails/desk")).MailsDesk }) },
              { path: "time", lazy: async () => ({ Component: (await import("./desks/time/desk")).TimeDesk }) },
              {
                path: "time/people",
                lazy: async () => ({ Component: (await import("./desks/time/people-desk")).PeopleDesk }),
              },
              {
                path: "time/list",
                lazy: async () => ({ Component: (await import("./desks/time/list-desk")).ListDesk }),
              },
              {
                path: "time/left",
                lazy: async () => ({ Component: (await import("./desks/time/left-desk")).LeftDesk }),
              },
              {
                path: "time/expenses",
                lazy: async () => ({ Component: (await import("./desks/time/expenses-desk")).ExpensesDesk }),
              },
              {
                path: "time/expenses/:id",
                lazy: async () => ({ Component: (await import("./desks/time/purchase-desk")).PurchaseDesk }),
              },
              { path: "wip", lazy: async () => ({ Component: (await import("./desks/wip/desk")).WipDesk }) },
              { path: "wip/board", lazy: async () => ({ Component: (await import("./desks/wip/board")).BoardDesk }) },
              {
                path: "billing",
                lazy: async () => ({ Component: (await import("./desks/billing/desk")).BillingDesk }),
              },
              {
                path: "billing/new",
                lazy: async () => ({ Component: (await import("./desks/billing/begin")).BeginDesk }),
              },
              {
                path: "billing/:id",
                lazy: async () => ({ Component: (await import("./desks/billing/review")).Review }),
              },
              {
                path: "receivables",
                lazy: async () => ({ Component: (await import("./desks/receivables/desk")).ReceivablesDesk }),
              },
              {
                path: "clients",
                lazy: async () => ({ Component: (await import("./desks/clients/desk")).ClientsDesk }),
              },
              {
                path: "clients/:id",
                lazy: async () => ({ Component: (await import("./desks/clients/overview")).ClientDesk }),
              },
              {
                path: "engagements/:id",
                lazy: async () => ({ Component: (await import("./desks/engagements/desk")).EngagementDesk }),
              },
              { path: "set-up", lazy: async () => ({ Component: (await import("./desks/set-up/index")).SetUpIndex }) },
              {
                path: "set-up/import",
                lazy: async () => ({ Component: (await import("./desks/set-up/import")).ImportDesk }),
              },
              {
                path: "set-up/look",
                lazy: async () => ({ Component: (await import("./desks/set-up/look")).LookDesk }),
              },
              {
                path: "set-up/security",
                lazy: async () => ({ Component: (await import("./desks/set-up/security")).SecurityDesk }),
              },
              {
                path: "set-up/changes",
                lazy: async () => ({ Component: (await import("./desks/set-up/changes")).ChangesDesk }),
              },
              {
                path: "set-up/:kind",
                lazy: async () => ({ Component: (await import("./desks/set-up/list")).SetUpList }),
              },
              {
                path: "account",
                lazy: async () => ({ Component: (await import("./desks/account/desk")).AccountDesk }),
              },
              { path: ":coming", lazy: async () => ({ Component: (await import("./desks/coming/desk")).ComingDesk }) },
              { path: "*", element: <Navigate to="/" replace /> },
            ],
          },
        ],
      },
    ],
  },
]);
