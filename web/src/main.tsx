import { lazy, StrictMode, Suspense } from "react";
import { createRoot } from "react-dom/client";
import { BrowserRouter, Route, Routes } from "react-router";
import { MantineProvider } from "@mantine/core";
import { QueryClientProvider } from "@tanstack/react-query";
import "@fontsource-variable/spline-sans/wght.css";
import "@fontsource-variable/spline-sans-mono/wght.css";
import "@mantine/core/styles/baseline.css";
import "@mantine/core/styles/default-css-variables.css";
import "@mantine/core/styles/global.css";
import "@mantine/core/styles/UnstyledButton.css";
import "@mantine/core/styles/CloseButton.css";
import "@mantine/core/styles/ScrollArea.css";
import "@mantine/core/styles/Paper.css";
import "@mantine/core/styles/Overlay.css";
import "@mantine/core/styles/ModalBase.css";
import "@mantine/core/styles/Modal.css";
import "@mantine/core/styles/Loader.css";
import "@mantine/core/styles/Button.css";
import "@mantine/core/styles/Alert.css";
import "@mantine/core/styles/Input.css";
import "@mantine/core/styles/NumberInput.css";
import "./look.css";
import { client } from "./api/queries";
import Shelf from "./shelf/Shelf";
import { theme } from "./theme";

const AxisPage = lazy(() => import("./frame/AxisPage"));
const Sheets = lazy(() => import("./steps/belt/Sheets"));
const Drawer = lazy(() => import("./drawer/Drawer"));
const Numbers = lazy(() => import("./about/Numbers"));

createRoot(document.getElementById("root")!).render(
  <StrictMode>
    <MantineProvider theme={theme} defaultColorScheme="auto">
      <QueryClientProvider client={client}>
        <BrowserRouter>
          <Suspense fallback={<div className="page quiet">One moment…</div>}>
            <Routes>
              <Route path="/" element={<Shelf />} />
              <Route path="/axis/:id/sheets" element={<Sheets />} />
              <Route path="/axis/:id/:step?" element={<AxisPage />} />
              <Route path="/drawer" element={<Drawer />} />
              <Route path="/numbers" element={<Numbers />} />
              <Route path="*" element={<Shelf />} />
            </Routes>
          </Suspense>
        </BrowserRouter>
      </QueryClientProvider>
    </MantineProvider>
  </StrictMode>,
);
