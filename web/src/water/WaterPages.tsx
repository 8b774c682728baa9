import { Box } from "@chakra-ui/react";
import { Outlet } from "react-router";
import { SectionTabs } from "../app/SectionTabs";
import { useSignedIn } from "../session/context";
import { t } from "./t";

const PAGES = [
  { path: "sets", name: t("water.log") },
  { path: "weather", name: t("water.weather") },
  { path: "morning", name: t("water.dailySummary") },
];

/** Frame of the pages about water: given and planned, fallen and expected, and who is told. */
export function WaterPages() {
  const { farm } = useSignedIn();
  const tabs = PAGES.map((page) => ({ label: page.name, to: `/${farm.slug}/water/${page.path}` }));
  return (
    <Box maxW="1240px">
      <SectionTabs title={t("water.irrigation")} label={t("water.irrigationPages")} tabs={tabs} />
      <Outlet />
    </Box>
  );
}
