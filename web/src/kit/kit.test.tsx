/** Every control of the kit: what it shows, what it says to whoever cannot see it, and that the keyboard does all of it. */
import { fireEvent, screen, waitFor, within } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import { act, ask } from "../api/client";
import { anew, client, useChange, useForm } from "../api/queries";
import { answering, DOWN, NEVER, Refused, shown } from "../testing/stage";
import { Act, ActLink } from "./Act";
import { Cards } from "./Cards";
import { Choices } from "./Choices";
import { Dialog } from "./Dialog";
import { Fetched, Waiting } from "./Fetched";
import { Guard } from "./Guard";
import { Cell, Day, Either, OpenFile, Pick, Slide, Tick, Words } from "./inputs";
import { Failed, Notice } from "./Notice";
import { walkRows } from "./rows";
import { Acts, Caution, Fig, Fold, Num, Part, Sheet, Table } from "./sheets";
import { Sure } from "./Sure";
import { Tabbed } from "./Tabbed";
import { Tip } from "./Tip";

beforeEach(() => answering({}));
afterEach(() => vi.unstubAllGlobals());

describe("buttons", () => {
  it("act by pointer and by key, and not while they are busy or switched off", async () => {
    const run = vi.fn();
    shown(
      <>
        <Act onClick={run}>Take it</Act>
        <Act busy onClick={run}>
          Under way
        </Act>
        <Act disabled onClick={run}>
          Off
        </Act>
      </>,
    );
    await userEvent.click(screen.getByRole("button", { name: "Take it" }));
    await userEvent.tab();
    screen.getByRole("button", { name: "Take it" }).focus();
    await userEvent.keyboard("{Enter}");
    expect(run).toHaveBeenCalledTimes(2);
    expect(screen.getByRole("button", { name: "Under way" })).toBeDisabled();
    expect(screen.getByRole("button", { name: "Off" })).toBeDisabled();
  });
  it("do not send the form that they stand in", async () => {
    const sent = vi.fn((e: React.FormEvent) => e.preventDefault());
    shown(
      <form onSubmit={sent}>
        <Act>Plain</Act>
        <Act type="submit">Send</Act>
      </form>,
    );
    await userEvent.click(screen.getByText("Plain"));
    expect(sent).not.toHaveBeenCalled();
    await userEvent.click(screen.getByText("Send"));
    expect(sent).toHaveBeenCalledOnce();
  });
  it("are addresses where they lead somewhere", () => {
    shown(
      <ActLink href="/api/drawer/file" download="drawer.csv">
        As CSV
      </ActLink>,
    );
    expect(screen.getByRole("link", { name: "As CSV" })).toHaveAttribute("download", "drawer.csv");
  });
});

describe("inputs", () => {
  it("take words, with their unit, their limit and what is wrong", async () => {
    const heard = vi.fn();
    shown(<Words label="Older than" unit="days" value="x" most={3} error="A number" onValue={heard} />);
    const field = screen.getByRole("textbox", { name: "Older than" });
    expect(field).toHaveAccessibleDescription("A number");
    expect(field).toBeInvalid();
    expect(field).toHaveAttribute("maxlength", "3");
    expect(screen.getByText("days")).toBeVisible();
    await userEvent.type(field, "y");
    expect(heard).toHaveBeenLastCalledWith("xy");
  });
  it("have a name also where none is shown", () => {
    shown(
      <>
        <Words bare label="Search" value="" onValue={() => undefined} />
        <Pick bare label="Where" value="a" options={["a", "b"]} onValue={() => undefined} />
        <Tick bare label="It is here" on={false} onValue={() => undefined} />
      </>,
    );
    expect(screen.getByRole("textbox", { name: "Search" })).toBeVisible();
    expect(screen.getByRole("combobox", { name: "Where" })).toBeVisible();
    expect(screen.getByRole("checkbox", { name: "It is here" })).toBeVisible();
    expect(screen.queryByText("Where")).toBeNull();
  });
  it("pick one of several and say which by its value", async () => {
    const heard = vi.fn();
    shown(
      <Pick
        label="Kind"
        value=""
        assumed
        options={[
          { value: "", label: "everything" },
          { value: "belt", label: "Belts" },
        ]}
        onValue={heard}
      />,
    );
    await userEvent.selectOptions(screen.getByRole("combobox", { name: "Kind" }), "Belts");
    expect(heard).toHaveBeenCalledWith("belt");
    expect(screen.getByRole("combobox")).toHaveAttribute("data-assumed");
  });
  it("tick by the space bar", async () => {
    const heard = vi.fn();
    shown(<Tick label="Rides along" on={false} onValue={heard} />);
    await userEvent.tab();
    await userEvent.keyboard(" ");
    expect(heard).toHaveBeenCalledWith(true);
  });
  it("choose one of two by arrow keys", async () => {
    const heard = vi.fn();
    const options = [
      { value: "pluck", label: "by sound" },
      { value: "push", label: "by pushing" },
    ] as const;
    shown(<Either label="How" value="pluck" options={options} onValue={heard} />);
    screen.getByRole("radio", { name: "by sound" }).focus();
    await userEvent.keyboard("{ArrowRight}");
    expect(heard).toHaveBeenCalledWith("push");
  });
  it("take a day", async () => {
    const heard = vi.fn();
    shown(<Day label="Day" value="2026-03-01" onValue={heard} />);
    const day = screen.getByLabelText("Day");
    expect(day).toHaveAttribute("type", "date");
    fireEvent.change(day, { target: { value: "2026-04-02" } });
    expect(heard).toHaveBeenLastCalledWith("2026-04-02");
  });
  it("open a file, and the same file again", async () => {
    const heard = vi.fn();
    shown(
      <OpenFile label="Drawer file" accept=".csv" onFile={(file) => void file.text().then(heard)}>
        Take a file in…
      </OpenFile>,
    );
    expect(screen.getByRole("button", { name: "Take a file in…" })).toBeVisible();
    const file = new File(["a,b"], "drawer.csv", { type: "text/csv" });
    await userEvent.upload(screen.getByLabelText("Drawer file"), file);
    await waitFor(() => expect(heard).toHaveBeenCalledTimes(1));
    await userEvent.upload(screen.getByLabelText("Drawer file"), file);
    await waitFor(() => expect(heard).toHaveBeenCalledTimes(2));
    expect(heard).toHaveBeenLastCalledWith("a,b");
  });
  it("slide along a line by arrow keys", async () => {
    const heard = vi.fn();
    shown(<Slide label="Carriage" share={0.5} onShare={heard} />);
    screen.getByRole("slider", { name: "Carriage" }).focus();
    await userEvent.keyboard("{ArrowRight}");
    expect(heard).toHaveBeenCalledWith(0.501);
  });
  it("keep what is typed into a cell until it is left", async () => {
    const left = vi.fn();
    shown(<Cell label="How many" value="2" error="0 or more" onValue={() => undefined} onLeave={left} />);
    expect(screen.getByRole("textbox", { name: "How many" })).toHaveAccessibleDescription("0 or more");
    await userEvent.tab();
    expect(left).not.toHaveBeenCalled();
    await userEvent.tab();
    expect(left).toHaveBeenCalledOnce();
  });
});

describe("cards", () => {
  function Three({ heard }: { heard: (key: string) => void }) {
    const [value, setValue] = useState("a");
    return (
      <Cards
        label="Layout"
        name="layout"
        value={value}
        onValue={(key) => (setValue(key), heard(key))}
        cards={["a", "b", "c"]}
        keyOf={(c) => c}
        face={(c) => `card ${c}`}
      />
    );
  }
  it("are one stop of Tab, and arrow keys go round them", async () => {
    const heard = vi.fn();
    shown(<Three heard={heard} />);
    await userEvent.tab();
    expect(screen.getByRole("radio", { name: "card a" })).toHaveFocus();
    await userEvent.keyboard("{ArrowRight}{ArrowDown}{ArrowRight}{ArrowLeft}");
    expect(heard.mock.calls.flat()).toEqual(["b", "c", "a", "c"]);
    expect(screen.getByRole("radio", { name: "card c" })).toBeChecked();
    await userEvent.tab();
    expect(screen.getByRole("radio", { name: "card c" })).not.toHaveFocus();
  });
});

describe("tabs", () => {
  function Pages() {
    const [on, setOn] = useState("one");
    const page = (key: string) => ({ key, name: key, says: `about ${key}`, body: <p>page {key}</p> });
    return <Tabbed label="Ways" pages={[page("one"), page("two")]} on={on} choose={setOn} />;
  }
  it("have panels, and arrow keys go along them", async () => {
    shown(<Pages />);
    const [one, two] = screen.getAllByRole("tab");
    expect(screen.getByRole("tabpanel")).toHaveTextContent("page one");
    expect(screen.getByRole("tabpanel")).toHaveAccessibleName("one");
    one!.focus();
    await userEvent.keyboard("{ArrowRight}");
    expect(two).toHaveFocus();
    expect(screen.getByRole("tabpanel")).toHaveTextContent("page two");
    expect(screen.getByText("about two")).toBeVisible();
  });
});

describe("menus, dialogs, questions", () => {
  it("do what is chosen by keys, under the heading that it stands under", async () => {
    const chosen = vi.fn();
    shown(
      <Choices
        label="Add a stage…"
        choices={[
          { key: "1 gearbox", says: "gearbox", group: "before this one" },
          { key: "2 gearbox", says: "gearbox", group: "after this one" },
        ]}
        choose={chosen}
      />,
    );
    screen.getByRole("button", { name: "Add a stage…" }).focus();
    await userEvent.keyboard("{Enter}");
    expect(await screen.findByText("before this one")).toBeVisible();
    await userEvent.click(screen.getByRole("menuitem", { name: "gearbox after this one" }));
    expect(chosen).toHaveBeenCalledWith("2 gearbox");
  });
  it("close with Escape and give the focus back", async () => {
    function Opener() {
      const [open, setOpen] = useState(false);
      return (
        <>
          <Act onClick={() => setOpen(true)}>Open</Act>
          <Dialog title="Keys" opened={open} close={() => setOpen(false)}>
            inside
          </Dialog>
        </>
      );
    }
    shown(<Opener />);
    await userEvent.click(screen.getByRole("button", { name: "Open" }));
    expect(await screen.findByRole("dialog", { name: "Keys" })).toBeVisible();
    await userEvent.keyboard("{Escape}");
    await waitFor(() => expect(screen.queryByRole("dialog")).toBeNull());
    await waitFor(() => expect(screen.getByRole("button", { name: "Open" })).toHaveFocus());
  });
  it("ask before what cannot be taken back", async () => {
    const run = vi.fn();
    shown(<Sure label="Strike out" title="Strike it out?" says="It can't be brought back." run={run} />);
    await userEvent.click(screen.getByRole("button", { name: "Strike out" }));
    const dialog = await screen.findByRole("dialog", { name: "Strike it out?" });
    expect(dialog).toHaveTextContent("It can't be brought back.");
    await userEvent.click(within(dialog).getByRole("button", { name: "Leave it" }));
    expect(run).not.toHaveBeenCalled();
    await userEvent.click(screen.getByRole("button", { name: "Strike out" }));
    const again = await screen.findByRole("dialog");
    await userEvent.click(within(again).getByRole("button", { name: "Strike out" }));
    expect(run).toHaveBeenCalledOnce();
  });
  it("tell by a tip what has the focus", async () => {
    shown(
      <Tip says="Light or dark">
        <button type="button">Dark</button>
      </Tip>,
    );
    await userEvent.tab();
    expect(await screen.findByRole("tooltip")).toHaveTextContent("Light or dark");
  });
});

describe("sheets and tables", () => {
  it("are headed, noted and noticed", () => {
    shown(
      <Sheet title="Bill" note="tick what is here" aside={<Act>Print</Act>} data-bill-sheet>
        <Part title="Rolls">inside</Part>
        <Fig name="Budget" value="12" unit="€" />
        <Caution>Supply off.</Caution>
      </Sheet>,
    );
    expect(screen.getByRole("heading", { level: 2 })).toHaveTextContent("Bill tick what is here");
    expect(screen.getByRole("heading", { level: 3 })).toHaveTextContent("Rolls");
    expect(screen.getByText("12")).toHaveTextContent("12 €");
    expect(screen.getByText("Supply off.")).toBeVisible();
  });
  it("name their columns, and scroll only where they are told to", () => {
    shown(
      <>
        <Table columns={["Part", { name: "Price", right: true }]} caption="Parts">
          <tr data-on>
            <td>Belt</td>
            <Num signal>12</Num>
            <Acts>
              <Act>Take</Act>
            </Acts>
          </tr>
        </Table>
        <Table tall={200} label="Revisions">
          <tr>
            <td>1</td>
          </tr>
        </Table>
      </>,
    );
    expect(screen.getByRole("columnheader", { name: "Price" })).toHaveAttribute("data-right", "true");
    expect(screen.getByRole("table", { name: "Parts" })).toBeVisible();
    expect(screen.getByText("12")).toHaveClass("signal");
    expect(screen.getByRole("group", { name: "Revisions" })).toHaveAttribute("tabindex", "0");
  });
  it("are walked by arrow keys, row by row, and stay at their ends", async () => {
    shown(
      <div onKeyDown={walkRows}>
        <Table>
          {["a", "b"].map((n, i) => (
            <tr key={n} tabIndex={i === 0 ? 0 : -1} data-testid={n}>
              <td>{n}</td>
            </tr>
          ))}
        </Table>
      </div>,
    );
    screen.getByTestId("a").focus();
    await userEvent.keyboard("{ArrowUp}");
    expect(screen.getByTestId("a")).toHaveFocus();
    await userEvent.keyboard("{ArrowDown}{ArrowDown}");
    expect(screen.getByTestId("b")).toHaveFocus();
  });
  it("fold with what is in force in a line, which goes when they open", async () => {
    shown(
      <Fold title="More" says="shaft 5 mm">
        <p>inside</p>
      </Fold>,
    );
    expect(screen.getByText("shaft 5 mm")).toBeVisible();
    await userEvent.click(screen.getByText("More"));
    await waitFor(() => expect(screen.queryByText("shaft 5 mm")).toBeNull());
    expect(screen.getByText("inside")).toBeVisible();
  });
});

describe("what is fetched", () => {
  function Shown({ path = "/drawer" }: { path?: string }) {
    const query = useQuery({ queryKey: [path], queryFn: () => ask<string[]>(path), retry: false });
    return (
      <Fetched of={query} what="the drawer">
        {(rows) => <p>rows: {rows.join(", ")}</p>}
      </Fetched>
    );
  }
  it("is said to be on its way", async () => {
    answering({ "/drawer": NEVER });
    shown(<Shown />);
    expect(await screen.findByRole("status")).toHaveTextContent("Fetching the drawer…");
  });
  it("is said to have failed, in the program's words, and is tried again on request", async () => {
    let answer: unknown = new Refused(503, { detail: "The data file is locked." });
    answering({ "/drawer": () => answer });
    shown(<Shown />);
    expect(await screen.findByRole("alert")).toHaveTextContent(
      /The drawer cannot be shown.*The data file is locked\./,
    );
    answer = ["belt"];
    await userEvent.click(screen.getByRole("button", { name: "Try again" }));
    expect(await screen.findByText("rows: belt")).toBeVisible();
    expect(screen.queryByRole("alert")).toBeNull();
  });
  it("stays when it cannot be renewed, and is said to be out of date", async () => {
    let answer: unknown = ["belt"];
    answering({ "/drawer": () => answer });
    shown(<Shown />);
    await screen.findByText("rows: belt");
    answer = DOWN;
    await client.invalidateQueries();
    expect(await screen.findByRole("alert")).toHaveTextContent(
      /The drawer may be out of date.*The program does not answer/,
    );
    expect(screen.getByText("rows: belt").closest("[data-stale]")).toHaveAttribute("data-stale", "true");
  });
  it("is read after a change also where it was still on its way then", async () => {
    let answer: unknown = undefined;
    let asked = 0;
    answering({ "/drawer": () => (++asked === 1 ? new Promise((say) => (answer = say)) : ["belt"]) });
    shown(<Shown />);
    await screen.findByRole("status");
    await anew(client, "/drawer");
    (answer as (rows: string[]) => void)(["as it was before"]);
    expect(await screen.findByText("rows: belt")).toBeVisible();
    expect(screen.queryByText("rows: as it was before")).toBeNull();
  });
  it("shows how much of long work is done", () => {
    shown(<Waiting done={0.25}>Trying…</Waiting>);
    expect(screen.getByRole("progressbar", { name: "How much is done" })).toHaveAttribute(
      "aria-valuenow",
      "25",
    );
    expect(screen.getByRole("status")).toHaveTextContent("Trying…");
  });
});

describe("what goes wrong", () => {
  it("is said field by field, with the remedy", () => {
    shown(
      <Failed
        title="Not written down"
        of={Object.assign(new Error("422"), { name: "Error" })}
        again={() => undefined}
      />,
    );
    expect(screen.getByRole("alert")).toHaveTextContent("Not written down");
    expect(screen.getByRole("button", { name: "Try again" })).toBeVisible();
  });
  it("is silent about what was stopped by hand", () => {
    shown(<Failed of={new DOMException("stopped", "AbortError") as unknown as Error} />);
    expect(screen.queryByRole("alert")).toBeNull();
  });
  it("only tells where nothing is at risk", async () => {
    const run = vi.fn();
    shown(<Notice title="Taken in" grave={false} actions={[{ says: "Take it back", run }]} />);
    await userEvent.click(within(screen.getByRole("status")).getByRole("button", { name: "Take it back" }));
    expect(run).toHaveBeenCalledOnce();
  });
  function Change({ told }: { told: boolean }) {
    const change = (told ? useForm : useChange)(() => act("/strike", { method: "DELETE" }));
    return (
      <>
        <Act onClick={() => change.mutate(undefined)}>Do it</Act>
        {told && <Failed of={change.error} />}
      </>
    );
  }
  it("is told at the page's edge where the place of the change does not tell it", async () => {
    answering({ "/strike": new Refused(503, { detail: "The disk is full." }) });
    shown(<Change told={false} />);
    await userEvent.click(screen.getByText("Do it"));
    expect(await screen.findByText("The disk is full.")).toBeVisible();
    expect(screen.getByText("That did not work")).toBeVisible();
  });
  it("is told once where a form tells it itself", async () => {
    answering({ "/strike": new Refused(409, { detail: "Another window was faster." }) });
    shown(<Change told />);
    await userEvent.click(screen.getByText("Do it"));
    await screen.findByText("Another window was faster.");
    expect(screen.getAllByText("That did not work")).toHaveLength(1);
  });
});

describe("what breaks off", () => {
  beforeEach(() => vi.spyOn(console, "error").mockImplementation(() => undefined));
  afterEach(() => vi.restoreAllMocks());

  let fault: Error | null;
  const Frail = () => {
    if (fault) throw fault;
    return <p>whole again</p>;
  };
  it("leaves the rest of the page, and can be tried again", async () => {
    fault = new Error("no such thing");
    shown(
      <>
        <p>the rest</p>
        <Guard what="This step">
          <Frail />
        </Guard>
      </>,
    );
    expect(screen.getByRole("alert")).toHaveTextContent(/This step has broken off.*no such thing/);
    expect(screen.getByText("the rest")).toBeVisible();
    fault = null;
    await userEvent.click(screen.getByRole("button", { name: "Try again" }));
    expect(screen.getByText("whole again")).toBeVisible();
  });
  it("is forgotten at another place", () => {
    fault = new Error("only here");
    const at = (place: string) => (
      <Guard what="This step" at={place}>
        {place === "aim" ? <Frail /> : <p>belt</p>}
      </Guard>
    );
    const { rerender } = shown(at("aim"));
    expect(screen.getByRole("alert")).toBeVisible();
    rerender(at("belt"));
    expect(screen.getByText("belt")).toBeVisible();
  });
  it("is a piece of an older program: the way on is to load the page anew", () => {
    fault = new TypeError("Failed to fetch dynamically imported module: /assets/Belt-old.js");
    shown(
      <Guard what="This step">
        <Frail />
      </Guard>,
    );
    expect(screen.getByRole("alert")).toHaveTextContent("This step could not be fetched");
    expect(screen.getByRole("button", { name: "Load the page anew" })).toBeVisible();
  });
});
