import type { ReactNode } from "react";
import { NavLink, useLocation } from "react-router";
import { TOUCH_PX } from "./touch";

interface Props {
  /** The address that all pages of the section begin with. */
  section: string;
  /** Its first page: the link leads there at once, since a redirect would take back a quick click
   * on another link. */
  first: string;
  children: ReactNode;
}

/** A link of the main navigation, marked on every page of its section. */
export function SectionLink({ section, first, children }: Props) {
  const { pathname } = useLocation();
  const inside = pathname === section || pathname.startsWith(`${section}/`);
  return (
    <NavLink
      to={`${section}/${first}`}
      aria-current={inside ? "page" : undefined}
      style={{
        fontWeight: inside ? 700 : 400,
        minHeight: TOUCH_PX,
        display: "flex",
        alignItems: "center",
      }}
    >
      {children}
    </NavLink>
  );
}
