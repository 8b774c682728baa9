import { Box, Flex, Heading, NativeSelect, Text } from "@chakra-ui/react";
import { lazy, Suspense, useMemo } from "react";
import { Link, NavLink, Outlet, useNavigate, useParams } from "react-router";
import { SignedInContext, type SignedIn } from "../session/context";
import { useSession } from "../session/queries";
import { SignIn } from "../session/SignIn";
import { useTheme } from "../theme/useTheme";
import { Keys } from "./Keys";
import { SectionLink } from "./SectionLink";
import { Loading } from "./Loading";
import { NotFound } from "./NotFound";
import { Notice } from "./Notice";
import { t } from "./t";
import { TOUCH_PX } from "./touch";

// Only drawn for who is signed in: the door itself should open fast.
const PersonMenu = lazy(() => import("./PersonMenu"));
const StopButton = lazy(async () => ({
  default: (await import("../valves/StopButton")).StopButton,
}));
const StopBar = lazy(async () => ({ default: (await import("../valves/StopBar")).StopBar }));

const marked = ({ isActive }: { isActive: boolean }) => ({
  fontWeight: isActive ? 700 : 400,
  minHeight: TOUCH_PX,
  display: "flex",
  alignItems: "center",
});

/** The frame of every page: who is here, on which farm; the page below. */
export function Shell() {
  const session = useSession();
  const { farm: slug } = useParams();
  const navigate = useNavigate();
  const data = session.data;
  useTheme(data?.person?.theme ?? "system");

  const value = useMemo<SignedIn | null>(() => {
    const farm = data?.farms.find((f) => f.slug === slug) ?? (slug ? undefined : data?.farms[0]);
    if (!data?.person || !farm) return null;
    return {
      person: data.person,
      farm,
      farms: data.farms,
      units: data.person.units,
      may: (action) => farm.may.includes(action),
    };
  }, [data, slug]);

  if (session.isPending) return <Loading what={t("app.loading")} />;
  if (session.error) return <Notice error={session.error} retry={() => void session.refetch()} />;
  if (!data?.person) return <SignIn demo={data?.demo ?? false} />;
  if (data.farms.length === 0) {
    return (
      <Box p="8">
        <Heading as="h1" size="xl">
          {t("app.noFarmYet")}
        </Heading>
        <Text mt="2">{t("app.youAreNotAMemberOfAny", { email: data.person.email })}</Text>
      </Box>
    );
  }
  if (!value) return <NotFound />;

  return (
    <SignedInContext value={value}>
      <Box
        as="a"
        {...{ href: "#main" }}
        position="absolute"
        left="-999px"
        _focus={{ left: "2", top: "2", bg: "sheet", p: "2", zIndex: 10 }}
      >
        {t("app.skipToContent")}
      </Box>
      <Flex
        as="header"
        align="center"
        wrap={{ base: "wrap", md: "nowrap" }}
        columnGap={{ base: "3", md: "8" }}
        px={{ base: "3", md: "6" }}
        py="2"
        borderBottomWidth="1px"
        borderColor="rule"
      >
        <Heading as="p" size={{ base: "md", md: "xl" }} fontWeight="700" whiteSpace="nowrap">
          <Link to={`/${value.farm.slug}`}>{t("app.evenFurrow")}</Link>
        </Heading>
        <Flex flex="1" minW="0" gap="2" align="center" color="inkSoft" fontSize="sm">
          {value.farms.length > 1 ? (
            <NativeSelect.Root size="sm" w="auto">
              <NativeSelect.Field
                aria-label={t("app.farm")}
                value={value.farm.slug}
                onChange={(e) => void navigate(`/${e.currentTarget.value}`)}
              >
                {value.farms.map((f) => (
                  <option key={f.slug} value={f.slug}>
                    {f.name}
                  </option>
                ))}
              </NativeSelect.Field>
              <NativeSelect.Indicator />
            </NativeSelect.Root>
          ) : (
            <Text truncate>{value.farm.name}</Text>
          )}
          {value.farm.simulated && <Text whiteSpace="nowrap">{t("app.simulated")}</Text>}
        </Flex>
        <Flex
          as="nav"
          aria-label={t("app.mainNavigation")}
          gap="5"
          // On a phone the parts have a line of their own.
          order={{ base: 3, md: 0 }}
          w={{ base: "100%", md: "auto" }}
        >
          <NavLink to={`/${value.farm.slug}`} end style={marked}>
            {t("app.board")}
          </NavLink>
          <SectionLink section={`/${value.farm.slug}/irrigation`} first="log">
            {t("app.irrigation")}
          </SectionLink>
          <NavLink to={`/${value.farm.slug}/rounds`} style={marked}>
            {t("app.rounds")}
          </NavLink>
          <SectionLink section={`/${value.farm.slug}/farm`} first="blocks">
            {t("app.farm")}
          </SectionLink>
        </Flex>
        {value.farm.valve_control && (
          <Box hideBelow="md">
            <Suspense fallback={null}>
              <StopButton />
            </Suspense>
          </Box>
        )}
        <Keys />
        <Suspense fallback={<Text fontSize="sm">{value.person.name}</Text>}>
          <PersonMenu />
        </Suspense>
      </Flex>
      {value.farm.valve_control && (
        <Suspense fallback={null}>
          <StopBar />
        </Suspense>
      )}
      <Box as="main" id="main" px={{ base: "3", md: "6" }} pt="4" pb="10">
        <Outlet />
      </Box>
    </SignedInContext>
  );
}
