/** Frame of the pages outside an axis. */
import type { ReactNode } from "react";
import { NavLink } from "react-router";
import { Mark, Switches } from "./Head";

export function Plain({ children }: { children: ReactNode }) {
  const on = ({ isActive }: { isActive: boolean }) => (isActive ? "on" : "");
  return (
    <div className="frame">
      <header className="head">
        <Mark />
        <nav aria-label="Pages" style={{ display: "flex", gap: 4 }}>
          <NavLink to="/" className={on} end>
            Shelf
          </NavLink>
          <NavLink to="/drawer" className={on}>
            Parts drawer
          </NavLink>
          <NavLink to="/numbers" className={on}>
            About the numbers
          </NavLink>
        </nav>
        <div className="right">
          <Switches />
        </div>
      </header>
      <div className="scroll">
        <main className="page">{children}</main>
      </div>
    </div>
  );
}
