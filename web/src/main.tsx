import { notifyManager, QueryCache, type QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { StrictMode } from "react";
import { createRoot } from "react-dom/client";
import { BrowserRouter } from "react-router";
import { App } from "./app";
import { Problem } from "./data/api";
import { Queries } from "./data/queries";
import { saveStatus } from "./data/save-status";
import { preload } from "./shell/preload";
import "./styles.css";

/** A session that has ended is opened again over the page; then what was asked is asked again. */
function onError(error: unknown, queries: () => QueryClient) {
  if (error instanceof Problem && error.status === 401) {
    saveStatus.signInAgain().then(() => queries().invalidateQueries());
  }
}

// what is shown before the server has answered is drawn in the frame of the key that did it, not in the one after
notifyManager.setScheduler(queueMicrotask);

const queries: QueryClient = new Queries({
  queryCache: new QueryCache({
    onError: (error, query) => query.meta?.quiet || onError(error, () => queries),
  }),
  defaultOptions: {
    queries: {
      staleTime: 20_000,
      retry: (count, error) => !(error instanceof Problem && error.status >= 400 && error.status < 500) && count < 5,
      retryDelay: (attempt) => Math.min(300 * 2 ** attempt, 4000),
    },
  },
});

// styles that parts add to the page carry the number that the content security policy of this page allows
const nonce = document.querySelector<HTMLMetaElement>('meta[property="csp-nonce"]')?.nonce;
if (nonce) Object.assign(globalThis, { __webpack_nonce__: nonce });

const code = preload(queries, location);

const root = document.getElementById("root");
if (root)
  createRoot(root).render(
    <StrictMode>
      <QueryClientProvider client={queries}>
        <BrowserRouter>
          <App code={code} />
        </BrowserRouter>
      </QueryClientProvider>
    </StrictMode>,
  );
