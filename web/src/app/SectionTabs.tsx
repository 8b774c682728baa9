import { Flex, Heading } from "@chakra-ui/react";
import { NavLink, useLocation } from "react-router";

export interface SectionTab {
  to: string;
  label: string;
  /** Ends of addresses that belong to it as well. */
  also?: string[];
}

interface Props {
  title: string;
  /** What the tabs are, for a screen reader. */
  label: string;
  tabs: SectionTab[];
}

/** The head of a section: its name and its pages. */
export function SectionTabs({ title, label, tabs }: Props) {
  const here = useLocation().pathname.split("/").at(-1) ?? "";
  return (
    <Flex align="baseline" columnGap={{ base: "4", md: "7" }} rowGap="1" wrap="wrap" mb="4">
      <Heading as="h1" size="2xl" fontWeight="700">
        {title}
      </Heading>
      <Flex as="nav" aria-label={label} columnGap="5" wrap="wrap">
        {tabs.map((tab) => (
          <NavLink
            key={tab.to}
            to={tab.to}
            style={({ isActive }) => {
              const on = isActive || tab.also?.includes(here);
              return {
                fontWeight: on ? 700 : 400,
                borderBottom: on ? "2px solid currentColor" : "2px solid transparent",
                paddingBottom: "2px",
              };
            }}
          >
            {tab.label}
          </NavLink>
        ))}
      </Flex>
    </Flex>
  );
}
