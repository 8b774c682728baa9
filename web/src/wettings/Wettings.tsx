import { Box, Button, Flex, Heading, NativeSelect, Text } from "@chakra-ui/react";
import { useState } from "react";
import type { FarmTime } from "../time/farmTime";
import type { UnitSystem } from "../units/format";
import { Term } from "../glossary/Term";
import { began, reached } from "./describe";
import type { Roots, RunHours, Wetting } from "./queries";
import { RootActivity } from "./RootActivity";
import { RunTime } from "./RunTime";
import { t } from "./t";
import { WettingFacts } from "./WettingFacts";
import { WettingTable } from "./WettingTable";

interface Props {
  /** Of one instrument, in order of arrival. */
  wettings: Wetting[];
  /** What they say of how long to run; null where they tell nothing yet. */
  runHours: RunHours | null;
  roots: Roots | null;
  chosen: number | null;
  choose: (id: number | null) => void;
  time: FarmTime;
  units: UnitSystem;
}

/** The wetting events of an instrument: the chosen one in full, and all of them in a table. */
export function Wettings({ wettings, runHours, roots, chosen, choose, time, units }: Props) {
  const at = wettings.findIndex((w) => w.id === chosen);
  const event = wettings[at];
  return (
    <Box as="section" mt="6" aria-labelledby="wetting-events">
      <Heading as="h2" id="wetting-events" size="lg">
        {t("wettings.wettingEvents")} <Term of="wettingEvent" />
      </Heading>
      {runHours && <RunTime runHours={runHours} units={units} />}
      {roots && <RootActivity roots={roots} units={units} />}
      {wettings.length === 0 && <Text color="inkSoft">{t("wettings.none")}</Text>}
      {event && (
        <OneEvent
          key={event.id}
          event={event}
          earlier={wettings[at - 1]}
          later={wettings[at + 1]}
          others={wettings}
          choose={choose}
          time={time}
          units={units}
        />
      )}
      {wettings.length > 0 && (
        <WettingTable
          wettings={wettings}
          chosen={chosen}
          choose={choose}
          time={time}
          units={units}
        />
      )}
    </Box>
  );
}

interface OneProps {
  event: Wetting;
  earlier: Wetting | undefined;
  later: Wetting | undefined;
  others: Wetting[];
  choose: (id: number | null) => void;
  time: FarmTime;
  units: UnitSystem;
}

function OneEvent({ event, earlier, later, others, choose, time, units }: OneProps) {
  const [beside, setBeside] = useState("");
  const other = others.find((w) => String(w.id) === beside);
  return (
    <Box bg="sheet" borderWidth="1px" borderColor="rule" borderRadius="l2" p="3" my="3">
      <Flex gap="2" wrap="wrap" align="center" mb="2">
        <Button
          size="xs"
          variant="outline"
          disabled={!earlier}
          onClick={() => earlier && choose(earlier.id)}
        >
          {t("wettings.previous")}
        </Button>
        <Button
          size="xs"
          variant="outline"
          disabled={!later}
          onClick={() => later && choose(later.id)}
        >
          {t("wettings.next")}
        </Button>
        <NativeSelect.Root size="xs" w="auto">
          <NativeSelect.Field
            aria-label={t("wettings.compareWith")}
            value={beside}
            onChange={(e) => setBeside(e.currentTarget.value)}
          >
            <option value="">
              {t("wettings.compareWith")}: {t("wettings.noOther")}
            </option>
            {others
              .toReversed()
              .filter((w) => w.id !== event.id)
              .map((w) => (
                <option key={w.id} value={w.id}>
                  {began(w, time)} · {reached(w, units)}
                </option>
              ))}
          </NativeSelect.Field>
          <NativeSelect.Indicator />
        </NativeSelect.Root>
        <Button size="xs" variant="outline" ml="auto" onClick={() => choose(null)}>
          {t("wettings.close")}
        </Button>
      </Flex>
      {!event.is_over && (
        <Text color="strawInk" fontSize="sm">
          {t("wettings.stillOpen")}
        </Text>
      )}
      <WettingFacts wettings={other ? [event, other] : [event]} time={time} units={units} />
      <Text color="inkSoft" fontSize="sm" mt="2">
        {t("wettings.ranges")}
      </Text>
    </Box>
  );
}
