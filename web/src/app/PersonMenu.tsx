import { Button, Menu, Portal, Text } from "@chakra-ui/react";
import { ChevronDown } from "lucide-react";
import { lazy, Suspense, useState } from "react";
import { useSignedIn } from "../session/context";
import { usePreferences, useSignOut } from "../session/queries";
import type { Theme } from "../theme/useTheme";
import type { UnitSystem } from "../units/format";
import { t } from "./t";

const UNITS: { value: UnitSystem; label: string }[] = [
  { value: "metric", label: t("app.metricMmHaM") },
  { value: "us", label: t("app.usInchesAcresGallons") },
];
const THEMES: { value: Theme; label: string }[] = [
  { value: "system", label: t("app.sameAsThisDevice") },
  { value: "light", label: t("app.light") },
  { value: "dark", label: t("app.dark") },
];

const PasswordSheet = lazy(() => import("../people/PasswordSheet"));

/** Units, theme, password, and the way out. */
export default function PersonMenu() {
  const { person, farm } = useSignedIn();
  const prefer = usePreferences();
  const signOut = useSignOut();
  const [changing, setChanging] = useState(false);
  return (
    <>
      <Menu.Root closeOnSelect={false}>
        <Menu.Trigger asChild>
          <Button variant="ghost" size="sm" px="2">
            <Text as="span" hideBelow="md">
              {person.name}
            </Text>
            <Text as="span" hideFrom="md" aria-label={person.name}>
              {person.name
                .split(" ")
                .map((w) => w[0])
                .join("")}
            </Text>
            <ChevronDown size={14} aria-hidden />
          </Button>
        </Menu.Trigger>
        <Portal>
          <Menu.Positioner>
            <Menu.Content minW="240px">
              <Menu.RadioItemGroup
                value={person.units}
                onValueChange={(e) => prefer.mutate({ units: e.value as UnitSystem })}
              >
                <Menu.ItemGroupLabel>{t("app.units")}</Menu.ItemGroupLabel>
                {UNITS.map((u) => (
                  <Menu.RadioItem key={u.value} value={u.value}>
                    <Menu.ItemIndicator />
                    {u.label}
                  </Menu.RadioItem>
                ))}
              </Menu.RadioItemGroup>
              <Menu.Separator />
              <Menu.RadioItemGroup
                value={person.theme}
                onValueChange={(e) => prefer.mutate({ theme: e.value as Theme })}
              >
                <Menu.ItemGroupLabel>{t("app.theme")}</Menu.ItemGroupLabel>
                {THEMES.map((one) => (
                  <Menu.RadioItem key={one.value} value={one.value}>
                    <Menu.ItemIndicator />
                    {one.label}
                  </Menu.RadioItem>
                ))}
              </Menu.RadioItemGroup>
              <Menu.Separator />
              <Menu.Item value="password" closeOnSelect onClick={() => setChanging(true)}>
                {t("app.changePassword")}
              </Menu.Item>
              <Menu.Item value="out" onClick={() => signOut.mutate()}>
                {t("app.signOut", { role: t(`role.${farm.role}`) })}
              </Menu.Item>
            </Menu.Content>
          </Menu.Positioner>
        </Portal>
      </Menu.Root>
      {changing && (
        <Suspense fallback={null}>
          <PasswordSheet close={() => setChanging(false)} />
        </Suspense>
      )}
    </>
  );
}
