/** To the field where something is decided, on the step that its own definition names. */
import { useNavigate } from "react-router";
import { useBench } from "./context";
import { stepAt } from "./fields";

export function useGo() {
  const { session, start } = useBench();
  const navigate = useNavigate();
  return (field: string, fallback: string) => {
    const { id, design } = session.get();
    void navigate({
      pathname: `/axis/${id}/${stepAt(start.design_schema, design, field, fallback)}`,
      hash: field,
    });
  };
}
