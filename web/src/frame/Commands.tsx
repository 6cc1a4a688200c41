/** Every command by name. */
import { useEffect } from "react";
import { useNavigate } from "react-router";
import { createSpotlight, Spotlight, type SpotlightActionData } from "@mantine/spotlight";
import "@mantine/spotlight/styles.css";
import { BASE } from "../api/client";
import { useBench, useSystem, useView } from "../design/context";
import { STEPS } from "./AxisPage";

const [store, spotlight] = createSpotlight();

export default function Commands({ go, close }: { go: (step: string) => void; close: () => void }) {
  const { session } = useBench();
  const view = useView();
  const navigate = useNavigate();
  const [system, setSystem] = useSystem();
  useEffect(() => spotlight.open(), []);
  const actions: SpotlightActionData[] = [
    ...STEPS.map((s, i) => ({
      id: s.key,
      label: `Go to ${s.name}`,
      description: `step ${i + 1}`,
      onClick: () => go(s.key),
    })),
    { id: "undo", label: "Undo", onClick: session.undo },
    { id: "redo", label: "Redo", onClick: session.redo },
    { id: "save", label: "Save now", onClick: () => void session.saveNow() },
    {
      id: "units",
      label: system === "metric" ? "Show inches and pounds" : "Show millimetres and newtons",
      onClick: () => setSystem(system === "metric" ? "imperial" : "metric"),
    },
    {
      id: "file",
      label: "Save as a file",
      description: "the design as JSON",
      onClick: () => window.location.assign(`${BASE}/api/axes/${view.id}/file`),
    },
    { id: "print", label: "Print this step", onClick: () => window.print() },
    { id: "shelf", label: "To the shelf", onClick: () => navigate("/") },
    { id: "drawer", label: "Parts drawer", onClick: () => navigate("/drawer") },
    { id: "numbers", label: "About the numbers", onClick: () => navigate("/numbers") },
  ];
  return (
    <Spotlight
      store={store}
      actions={actions}
      shortcut={null}
      nothingFound="No such command."
      highlightQuery
      limit={20}
      searchProps={{ placeholder: "What do you want to do?", "aria-label": "Search commands" }}
      onSpotlightClose={close}
    />
  );
}
