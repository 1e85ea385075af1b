import "@fontsource-variable/fraunces/index.css";
import "@fontsource-variable/hanken-grotesk/index.css";
import { QueryClientProvider } from "@tanstack/react-query";
import { StrictMode } from "react";
import { createRoot } from "react-dom/client";
import { RouterProvider } from "react-router";
import { router } from "./frame/routes";
import { GlobalStyle } from "./parts/theme";
import { Toasts } from "./parts/Toast";
import { Away, makeQueries } from "./common/Away";

const queries = makeQueries();

createRoot(document.getElementById("root")!).render(
  <StrictMode>
    <QueryClientProvider client={queries}>
      <GlobalStyle />
      <RouterProvider router={router} />
      <Toasts />
      <Away />
    </QueryClientProvider>
  </StrictMode>,
);
