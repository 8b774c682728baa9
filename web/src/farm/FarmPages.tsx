import { Box } from "@chakra-ui/react";
import { Outlet } from "react-router";
import { SectionTabs } from "../app/SectionTabs";
import { useSignedIn } from "../session/context";
import { t } from "./t";

const PARTS = [
  { to: "blocks", label: t("farm.blocks"), also: [] },
  { to: "map", label: t("farm.map"), also: [] },
  { to: "water-supply", label: t("farm.waterSupply"), also: [] },
  { to: "soils", label: t("farm.soils"), also: [] },
  { to: "crops", label: t("farm.crops"), also: [] },
  // Pages that lie behind the instruments.
  { to: "instruments", label: t("farm.instruments"), also: ["files", "data-received", "loggers"] },
  { to: "siting", label: t("farm.siting"), also: [] },
  { to: "findings", label: t("farm.findings"), also: [] },
  { to: "people", label: t("farm.people"), also: [] },
  { to: "change-history", label: t("farm.changes"), also: [] },
];

/** What the answers stand on: blocks, map, soils, crops and
 * instruments; the farm's people, and what they changed. */
export function FarmPages() {
  const { farm } = useSignedIn();
  const tabs = PARTS.map((part) => ({ ...part, to: `/${farm.slug}/farm/${part.to}` }));
  return (
    <Box>
      <SectionTabs title={t("farm.farm")} label={t("farm.farmPages")} tabs={tabs} />
      <Outlet />
    </Box>
  );
}
