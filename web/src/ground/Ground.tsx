import { Box, Flex, Heading } from "@chakra-ui/react";
import { NavLink, Outlet } from "react-router";
import { useSignedIn } from "../session/context";

const PARTS = [
  { to: "blocks", label: "Blocks" },
  { to: "map", label: "Map" },
  { to: "soils", label: "Soils" },
  { to: "crops", label: "Crops" },
  { to: "instruments", label: "Instruments" },
];

/** The ground the answers stand on: blocks, the plan, soils, crops and instruments. */
export function Ground() {
  const { farm } = useSignedIn();
  return (
    <Box>
      <Flex align="baseline" gap={{ base: "4", md: "7" }} wrap="wrap" mb="4">
        <Heading as="h1" size="2xl" fontWeight="700">
          Ground
        </Heading>
        <Flex as="nav" aria-label="Parts of the ground" gap="5">
          {PARTS.map((p) => (
            <NavLink
              key={p.to}
              to={`/${farm.slug}/ground/${p.to}`}
              style={({ isActive }) => ({
                fontWeight: isActive ? 700 : 400,
                borderBottom: isActive ? "2px solid currentColor" : "2px solid transparent",
                paddingBottom: "2px",
              })}
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
