import { Navigate, useParams } from "react-router";

const PAGES: Record<string, string> = {
  arrivals: "data-received",
  changes: "change-history",
  sets: "log",
  morning: "summary",
};

/** Leads from the address that a page had before to the one it has. */
export function Moved({ section }: { section: "farm" | "irrigation" }) {
  const { farm, "*": rest = "" } = useParams();
  const [page = "", ...more] = rest.split("/");
  const to = ["", farm, section, PAGES[page] ?? page, ...more].join("/");
  return <Navigate to={to} replace />;
}
