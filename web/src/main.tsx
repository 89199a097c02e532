import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { setNonce } from "get-nonce";
import { StrictMode } from "react";
import { createRoot } from "react-dom/client";
import { App } from "./App";
import { begin } from "./compare/store/prefetch";
import "./style.css";

// The primitives that write their own style element take the page's nonce from here.
setNonce(document.querySelector<HTMLMetaElement>('meta[name="nonce"]')?.content ?? "");

begin(window.location.pathname);

const client = new QueryClient({
  defaultOptions: { queries: { retry: false, refetchOnWindowFocus: false, staleTime: 30_000 } },
});

const root = document.getElementById("root");
if (root) {
  createRoot(root).render(
    <StrictMode>
      <QueryClientProvider client={client}>
        <App />
      </QueryClientProvider>
    </StrictMode>,
  );
}
