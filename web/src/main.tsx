import "@fontsource-variable/source-sans-3";
import "antd/dist/reset.css";
import "./style/tokens.css";
import "./style/base.css";
import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { ConfigProvider } from "antd";
import { StrictMode } from "react";
import { createRoot } from "react-dom/client";
import { RouterProvider } from "react-router";
import { router } from "./routes";
import { theme } from "./theme";

const queries = new QueryClient({ defaultOptions: { queries: { retry: false, staleTime: 5_000 } } });

createRoot(document.getElementById("root") as HTMLElement).render(
  <StrictMode>
    <ConfigProvider theme={theme} wave={{ disabled: true }} button={{ autoInsertSpace: false }}>
      <QueryClientProvider client={queries}>
        <RouterProvider router={router} />
      </QueryClientProvider>
    </ConfigProvider>
  </StrictMode>,
);
