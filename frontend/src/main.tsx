import "@fontsource/instrument-sans/latin-400.css";
import "@fontsource/instrument-sans/latin-500.css";
import "@fontsource/instrument-sans/latin-600.css";
import "@fontsource/bricolage-grotesque/latin-600.css";
import "@fontsource/ibm-plex-mono/latin-400.css";
import "@fontsource/ibm-plex-mono/latin-500.css";
import "./index.css";
import { QueryClientProvider } from "@tanstack/react-query";
import { StrictMode } from "react";
import { createRoot } from "react-dom/client";
import { BrowserRouter } from "react-router";
import { declarationsQuery, FreshQueries, sessionQuery, watchLeaving } from "./api";
import { App } from "./App";
import { fetchAhead } from "./screens";
import { startTheme } from "./ui";

watchLeaving();
startTheme();
const root = document.getElementById("root");
if (!root) throw new Error("index.html has no #root");
const queries = new FreshQueries({
  defaultOptions: { queries: { retry: 1, refetchOnWindowFocus: false } },
});
fetchAhead(window.location.pathname);
void queries.prefetchQuery(sessionQuery);
void queries.prefetchQuery(declarationsQuery);
createRoot(root).render(
  <StrictMode>
    <QueryClientProvider client={queries}>
      <BrowserRouter>
        <App />
      </BrowserRouter>
    </QueryClientProvider>
  </StrictMode>,
);
