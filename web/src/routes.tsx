import { createBrowserRouter, Navigate } from "react-router";
import { Frame } from "./frame/frame";
import { Home } from "./frame/home";

/** Each desk is loaded when it is first opened. */
export const router = createBrowserRouter([
  { path: "/sign-in", lazy: async () => ({ Component: (await import("./desks/sign-in/desk")).SignIn }) },
  {
    path: "/",
    Component: Frame,
    children: [
      { index: true, Component: Home },
      { path: "time", lazy: async () => ({ Component: (await import("./desks/time/desk")).TimeDesk }) },
      { path: "wip", lazy: async () => ({ Component: (await import("./desks/wip/desk")).WipDesk }) },
      { path: "billing", lazy: async () => ({ Component: (await import("./desks/billing/desk")).BillingDesk }) },
      { path: "billing/:id", lazy: async () => ({ Component: (await import("./desks/billing/review")).Review }) },
      { path: ":coming", lazy: async () => ({ Component: (await import("./desks/coming/desk")).ComingDesk }) },
      { path: "*", element: <Navigate to="/" replace /> },
    ],
  },
]);
