/** Frame of the pages outside an axis. */
import { useEffect, type ReactNode } from "react";
import { NavLink, useLocation } from "react-router";
import { Guard } from "../kit/Guard";
import { NotKept } from "../kit/Unsent";
import css from "./frame.module.css";
import { Mark, Switches } from "./Head";

export function Plain({ children }: { children: ReactNode }) {
  const { pathname } = useLocation();
  useEffect(() => {
    document.title = "Crisp Cadence";
  }, []);
  return (
    <div className={css.frame}>
      <header className={css.head}>
        <Mark />
        <nav aria-label="Pages" className={css.pages}>
          <NavLink to="/" end>
            Shelf
          </NavLink>
          <NavLink to="/drawer">Parts drawer</NavLink>
          <NavLink to="/numbers">About the numbers</NavLink>
        </nav>
        <div className={css.right}>
          <Switches />
        </div>
      </header>
      <div className={css.scroll} tabIndex={-1}>
        <main className={css.page}>
          <NotKept />
          <Guard what="This page" at={pathname}>
            {children}
          </Guard>
        </main>
      </div>
    </div>
  );
}

/** The head of such a page: its name, a word about it, and what can be done with all of it. */
export const PageTop = ({
  title,
  says,
  children,
}: {
  title: ReactNode;
  says?: string;
  children?: ReactNode;
}) => (
  <div className={css.top}>
    <h1>{title}</h1>
    <p>{says}</p>
    {children}
  </div>
);
