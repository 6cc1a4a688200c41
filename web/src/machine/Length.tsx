/** A length to type, which stands there already where it is known. */
import { useStart } from "../api/queries";
import { FreeNumber } from "../fields/FreeNumber";
import { useSaid } from "./plan";

interface Props {
  label: string;
  name: string;
  now?: number | null;
  signed?: boolean;
  onValue: (mm: number | null) => void;
}

export function Length({ now, ...field }: Props) {
  const said = useSaid();
  const start = useStart();
  return (
    <FreeNumber
      dimension="length"
      units={start.data?.units ?? {}}
      start={typeof now === "number" ? said(now, "mm", 7).text : ""}
      {...field}
    />
  );
}
