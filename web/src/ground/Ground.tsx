import { Box, Flex, Heading } from "@chakra-ui/react";
import { NavLink, Outlet, useLocation } from "react-router";
import { useSignedIn } from "../session/context";
import { t } from "../language/t";

const PARTS = [
  { to: "blocks", label: t("ground.blocks"), also: [] },
  { to: "map", label: t("ground.map"), also: [] },
  { to: "soils", label: t("ground.soils"), also: [] },
  { to: "crops", label: t("ground.crops"), also: [] },
  // Pages that lie behind the instruments.
  { to: "instruments", label: t("ground.instruments"), also: ["files", "arrivals", "loggers"] },
];

/** The ground the answers stand on: blocks, the plan, soils, crops and instruments. */
export function Ground() {
  const { farm } = useSignedIn();
  const here = useLocation().pathname.split("/").at(-1) ?? "";
  return (
    <Box>
      <Flex align="baseline" gap={{ base: "4", md: "7" }} wrap="wrap" mb="4">
        <Heading as="h1" size="2xl" fontWeight="700">
          {t("ground.farm")}
        </Heading>
        <Flex as="nav" aria-label={t("ground.farmPages")} gap="5">
          {PARTS.map((p) => (
            <NavLink
              key={p.to}
              to={`/${farm.slug}/ground/${p.to}`}
              style={({ isActive }) => {
                const on = isActive || p.also.some((a) => a === here);
                return {
                  fontWeight: on ? 700 : 400,
                  borderBottom: on ? "2px solid currentColor" : "2px solid transparent",
                  paddingBottom: "2px",
                };
              }}
            >
              {p.label}
            </NavLink>
          ))}
        </Flex>
      </Flex>
      <Outlet />
    </Box>
  );
}
