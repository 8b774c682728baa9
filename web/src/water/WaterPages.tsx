import { Box, Flex, Heading } from "@chakra-ui/react";
import { NavLink, Outlet } from "react-router";
import { useSignedIn } from "../session/context";
import { t } from "../language/t";

const PAGES = [
  { path: "sets", name: t("water.log") },
  { path: "weather", name: t("water.weather") },
  { path: "morning", name: t("water.dailySummary") },
];

/** Frame of the pages about water: given and planned, fallen and expected, and who is told. */
export function WaterPages() {
  const { farm } = useSignedIn();
  return (
    <Box maxW="1240px" mx="auto">
      <Flex align="baseline" gap="6" wrap="wrap" mb="4">
        <Heading as="h1" size="2xl" fontWeight="700">
          {t("water.irrigation")}
        </Heading>
        <Flex as="nav" aria-label={t("water.irrigationPages")} gap="5">
          {PAGES.map((p) => (
            <NavLink
              key={p.path}
              to={`/${farm.slug}/water/${p.path}`}
              style={({ isActive }) => ({
                fontWeight: isActive ? 700 : 400,
                textDecoration: isActive ? "none" : "underline",
              })}
            >
              {p.name}
            </NavLink>
          ))}
        </Flex>
      </Flex>
      <Outlet />
    </Box>
  );
}
