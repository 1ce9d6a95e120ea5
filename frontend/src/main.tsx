import "@fontsource/ibm-plex-mono/400.css";
import "@fontsource/ibm-plex-mono/600.css";
import "@fontsource/ibm-plex-sans/400.css";
import "@fontsource/ibm-plex-sans/600.css";
import "antd/dist/antd.css";
import "./index.css";

import { QueryClientProvider } from "@tanstack/react-query";
import { App as AntApp, ConfigProvider } from "antd";
import { StrictMode } from "react";
import { createRoot } from "react-dom/client";
import { BrowserRouter, Route, Routes } from "react-router";

import { queryClient } from "./api/queryClient";
import { GuideBeside } from "./guide/GuideBeside";
import { NoPage } from "./app/NoPage";
import { ScenePage } from "./app/ScenePage";
import { fetchedLater } from "./shared/fetchedLater";
import { ink, putInk, theme } from "./shared/theme";
import { warnOfWaiting } from "./state/waiting";

/** Pixels from the top at which messages stand: in a scene below the views' names and a view's tools. */
const BELOW_THE_BARS = 88;
const AT_THE_TOP = 8;
const Home = fetchedLater(async () => (await import("./home/Home")).Home);

putInk(document.documentElement);
window.addEventListener("beforeunload", warnOfWaiting);
// A file that is dropped where nothing takes it is not shown in the place of the page.
for (const kind of ["dragover", "drop"] as const) {
  window.addEventListener(kind, (event) => { if (event.dataTransfer?.types.includes("Files")) event.preventDefault(); });
}
const root = document.getElementById("root");
if (root) {
  createRoot(root).render(
    <StrictMode>
      <ConfigProvider theme={theme} wave={{ disabled: true }} renderEmpty={() => <span style={{ color: ink.quiet }}>Nothing to choose here.</span>}>
        <AntApp message={{ maxCount: 3, top: BELOW_THE_BARS }}>
          <QueryClientProvider client={queryClient}>
            <GuideBeside />
            <BrowserRouter>
              <Routes>
                {/* Nothing to be clicked stands at the top of Home: its messages do. */}
                <Route path="/" element={<AntApp component={false} message={{ top: AT_THE_TOP }}><Home /></AntApp>} />
                <Route path="/scenes/:sceneId/:view?" element={<ScenePage />} />
                <Route path="*" element={<NoPage />} />
              </Routes>
            </BrowserRouter>
          </QueryClientProvider>
        </AntApp>
      </ConfigProvider>
    </StrictMode>,
  );
}
