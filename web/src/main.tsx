import { lazy, StrictMode, Suspense } from "react";
import { createRoot } from "react-dom/client";
import { BrowserRouter, Route, Routes, useLocation } from "react-router";
import { MantineProvider } from "@mantine/core";
import { Notifications } from "@mantine/notifications";
import { QueryClientProvider } from "@tanstack/react-query";
import "@fontsource-variable/spline-sans/wght.css";
import "@fontsource-variable/spline-sans-mono/wght.css";
import "./look/mantine.css";
import "./look/base.css";
import { BASE } from "./api/client";
import { client } from "./api/queries";
import { Plain } from "./frame/Plain";
import { NotHere, Waiting } from "./kit/Fetched";
import { Guard } from "./kit/Guard";
import Shelf from "./shelf/Shelf";
import { theme } from "./theme";

const AxisPage = lazy(() => import("./frame/AxisPage"));
const Sheets = lazy(() => import("./steps/belt/Sheets"));
const Drawer = lazy(() => import("./drawer/Drawer"));
const Machine = lazy(() => import("./machine/Machine"));
const Numbers = lazy(() => import("./about/Numbers"));

const Nowhere = () => (
  <Plain>
    <NotHere what="this page" />
  </Plain>
);

function Pages() {
  const { pathname } = useLocation();
  return (
    <Guard what="This page" at={pathname}>
      <Suspense fallback={<Waiting>One moment…</Waiting>}>
        <Routes>
          <Route path="/" element={<Shelf />} />
          <Route path="/axis/:id/sheets" element={<Sheets />} />
          <Route path="/axis/:id/:step?" element={<AxisPage />} />
          <Route path="/machine/:id" element={<Machine />} />
          <Route path="/drawer" element={<Drawer />} />
          <Route path="/numbers" element={<Numbers />} />
          <Route path="*" element={<Nowhere />} />
        </Routes>
      </Suspense>
    </Guard>
  );
}

createRoot(document.getElementById("root")!).render(
  <StrictMode>
    <MantineProvider theme={theme} defaultColorScheme="auto">
      <Notifications position="bottom-center" />
      <QueryClientProvider client={client}>
        <BrowserRouter basename={BASE}>
          <Pages />
        </BrowserRouter>
      </QueryClientProvider>
    </MantineProvider>
  </StrictMode>,
);
