import { Box } from "@chakra-ui/react";
import { Outlet } from "react-router";
import { SectionTabs } from "../app/SectionTabs";
import { useSignedIn } from "../session/context";
import { t } from "./t";

const PARTS = [
  { to: "blocks", label: t("ground.blocks"), also: [] },
  { to: "map", label: t("ground.map"), also: [] },
  { to: "soils", label: t("ground.soils"), also: [] },
  { to: "crops", label: t("ground.crops"), also: [] },
  // Pages that lie behind the instruments.
  { to: "instruments", label: t("ground.instruments"), also: ["files", "arrivals", "loggers"] },
  { to: "people", label: t("ground.people"), also: [] },
  { to: "changes", label: t("ground.changes"), also: [] },
];

/** The ground the answers stand on: blocks, map, soils, crops and
 * instruments; its people, and what they changed. */
export function Ground() {
  const { farm } = useSignedIn();
  const tabs = PARTS.map((part) => ({ ...part, to: `/${farm.slug}/ground/${part.to}` }));
  return (
    <Box>
      <SectionTabs title={t("ground.farm")} label={t("ground.farmPages")} tabs={tabs} />
      <Outlet />
    </Box>
  );
}
