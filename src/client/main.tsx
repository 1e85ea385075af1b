import "@fontsource-variable/fraunces/index.css";
import "@fontsource-variable/hanken-grotesk/index.css";
import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { StrictMode } from "react";
import { createRoot } from "react-dom/client";
import { RouterProvider } from "react-router";
import { router } from "./routes";
import { GlobalStyle } from "./parts/theme";
import { Toasts } from "./parts/Toast";
import { TroubleError } from "./api/client";

const queries = new QueryClient({
  defaultOptions: {
    queries: { staleTime: 10_000, retry: (count, error) => !(error instanceof TroubleError) && count < 2 },
  },
});

createRoot(document.getElementById("root")!).render(
  <StrictMode>
    <QueryClientProvider client={queries}>
      <GlobalStyle />
      <RouterProvider router={router} />
      <Toasts />
    </QueryClientProvider>
  </StrictMode>,
);
