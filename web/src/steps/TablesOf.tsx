/** The tables of the report that belong to a step. */
import type { Report } from "../api/client";
import { useNumbers } from "../design/context";
import { Num, Sheet, Table } from "../kit/sheets";

type TableData = Report["tables"][number];

export function TablesOf({ step }: { step: TableData["step"] }) {
  const { report } = useNumbers();
  return report?.tables.filter((t) => t.step === step).map((t) => <TableSheet key={t.key} table={t} />);
}

function TableSheet({ table }: { table: TableData }) {
  const { show } = useNumbers();
  return (
    <Sheet title={table.title} note={table.note} data-table={table.key}>
      <Table
        dense
        columns={table.head.map(({ says, unit }) => ({
          name: unit ? `${says}, ${show(1, unit ?? "").unit}` : says,
          right: true,
        }))}
      >
        {table.rows.map((row, i) => (
          <tr key={i}>
            {row.map((c, j) => (
              <Num key={j}>
                {typeof c === "number" ? show(c, table.head[j]?.unit ?? "", 4).text : (c ?? "–")}
              </Num>
            ))}
          </tr>
        ))}
      </Table>
    </Sheet>
  );
}
