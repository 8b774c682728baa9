import { Box, Button, Flex, Heading, Text } from "@chakra-ui/react";
import { useMemo, useState } from "react";
import { Loading } from "../app/Loading";
import { Notice } from "../app/Notice";
import { useSignedIn } from "../session/context";
import { FarmTime } from "../time/farmTime";
import { Cautions } from "./Cautions";
import { ControllerTable } from "./ControllerTable";
import { OpenSheet } from "./OpenSheet";
import { SwitchSheet } from "./SwitchSheet";
import { ValveAlarms } from "./ValveAlarms";
import { ValveRecord } from "./ValveRecord";
import { ValveSheet } from "./ValveSheet";
import { ValveTable } from "./ValveTable";
import { useClose, useSwitch, useValves, type Valve } from "./queries";
import { t } from "./t";

/** Valves in the field: how they stand, opened and closed by a person, and everything on record. */
export function ValvesPage() {
  const { farm, may } = useSignedIn();
  const found = useValves(farm.slug);
  const close = useClose(farm.slug);
  const turn = useSwitch(farm.slug);
  const [opening, setOpening] = useState<Valve | null>(null);
  const [describing, setDescribing] = useState<Valve | "new" | null>(null);
  const [switching, setSwitching] = useState(false);
  const data = found.data;
  const time = useMemo(() => data && new FarmTime(data.now, data.time_zone), [data]);
  if (found.isPending) return <Loading what={t("valves.loading")} />;
  if (found.error && !data)
    return <Notice error={found.error} retry={() => void found.refetch()} />;
  if (!data || !time) return null;
  const manages = may("manage_valves");
  return (
    <Box>
      {!data.on && (
        <Box my="4">
          <Text fontWeight="600">{t("valves.isOff")}</Text>
          <Text fontSize="sm">
            {manages ? t("valves.whatItDoes") : t("valves.managerSwitches")}
          </Text>
          <Cautions />
          {manages && (
            <Button size="sm" onClick={() => setSwitching(true)}>
              {t("valves.switchOn")}
            </Button>
          )}
        </Box>
      )}
      <ValveAlarms alarms={data.alarms} time={time} />
      {close.error && <Notice error={close.error} />}
      <Flex justify="space-between" align="center" mt="4" gap="4">
        <Heading as="h2" size="md">
          {t("valves.valves")}
        </Heading>
        {manages && data.controllers.length > 0 && (
          <Button size="sm" variant="outline" onClick={() => setDescribing("new")}>
            {t("valves.newValve")}
          </Button>
        )}
      </Flex>
      {data.valves.length === 0 ? (
        <Text py="4">
          {data.controllers.length === 0 ? t("valves.noController") : t("valves.noValve")}
        </Text>
      ) : (
        <ValveTable
          valves={data.valves}
          stopped={data.stop !== null || !data.on}
          open={setOpening}
          close={(v) => close.mutate(v.id)}
          describe={setDescribing}
        />
      )}
      <ControllerTable controllers={data.controllers} />
      <ValveRecord entries={data.record} time={time} />
      {data.on && (
        <Box mt="8">
          <Cautions />
          {manages && (
            <Button
              size="sm"
              variant="outline"
              loading={turn.isPending}
              onClick={() => turn.mutate({ on: false, cautions_read: false })}
            >
              {t("valves.switchOff")}
            </Button>
          )}
        </Box>
      )}
      {switching && (
        <SwitchSheet
          save={() =>
            turn.mutate({ on: true, cautions_read: true }, { onSuccess: () => setSwitching(false) })
          }
          pending={turn.isPending}
          error={turn.error}
          close={() => setSwitching(false)}
        />
      )}
      {opening && (
        <OpenSheet
          valve={opening}
          scheduled={data.scheduled.filter((s) => s.block_id === opening.block_id)}
          longestMin={
            data.controllers.find((c) => c.id === opening.controller_id)?.longest_min ?? null
          }
          time={time}
          close={() => setOpening(null)}
        />
      )}
      {describing && (
        <ValveSheet
          valve={describing === "new" ? null : describing}
          controllers={data.controllers}
          close={() => setDescribing(null)}
        />
      )}
    </Box>
  );
}
