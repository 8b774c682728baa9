import { Box } from "@chakra-ui/react";
import { Outlet, useLocation } from "react-router";
import { SectionTabs } from "../app/SectionTabs";
import { useSignedIn } from "../session/context";
import { t } from "./t";

const PAGES = [
  { path: "run-sheet", name: t("water.runSheet") },
  { path: "jobs", name: t("water.jobs") },
  { path: "valves", name: t("water.valves") },
  { path: "log", name: t("water.log") },
  { path: "weather", name: t("water.weather") },
  { path: "summary", name: t("water.dailySummary") },
];

/** Frame of the pages about water: given and planned, fallen and expected, and who is told. */
export function IrrigationPages() {
  const { farm } = useSignedIn();
  const tabs = PAGES.map((page) => ({
    label: page.name,
    to: `/${farm.slug}/irrigation/${page.path}`,
  }));
  // The run sheet uses all the width there is.
  const wide = useLocation().pathname.endsWith("/run-sheet");
  return (
    <Box maxW={wide ? "none" : "1240px"}>
      <SectionTabs title={t("water.irrigation")} label={t("water.irrigationPages")} tabs={tabs} />
      <Outlet />
    </Box>
  );
}
