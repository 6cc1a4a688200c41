/** Five ways to a better drive: search the drawer, one change, other ways to move, why not this one, and how far this one goes. */
import { lazy, useState } from "react";
import { Sheet } from "../../kit/sheets";
import { Tabbed } from "../../kit/Tabbed";

const Search = lazy(() => import("./Search"));
const OneChange = lazy(() => import("./OneChange"));
const OtherWays = lazy(() => import("./OtherWays"));
const HowFar = lazy(() => import("./HowFar"));
const WhyNot = lazy(() => import("./WhyNot"));

const WAYS = [
  {
    key: "search",
    name: "Search the drawer",
    says: "every combination of motor, supply, reduction, belt and teeth on the whole ladder",
    body: <Search />,
  },
  {
    key: "change",
    name: "One change",
    says: "every single swap from here, and the cheapest of them, or plan of several, that makes all hold",
    body: <OneChange />,
  },
  {
    key: "ways",
    name: "Other ways",
    says: "the same aim by belt, screw and rack, side by side",
    body: <OtherWays />,
  },
  {
    key: "why",
    name: "Why not…",
    says: "ask of any combination which target it fails, and by how much",
    body: <WhyNot />,
  },
  {
    key: "far",
    name: "How far",
    says: "the most of each aim at which everything holds, and what mends what is short",
    body: <HowFar />,
  },
];

export default function Choose() {
  const [on, setOn] = useState("search");
  return (
    <Sheet data-choose>
      <Tabbed label="Ways to a better drive" pages={WAYS} on={on} choose={setOn} />
    </Sheet>
  );
}
