import { Box, Button, Flex, Text } from "@chakra-ui/react";
import { Notice } from "../app/Notice";
import { useSignedIn } from "../session/context";
import type { FarmTime } from "../time/farmTime";
import { useConfirmAlarm, type ValveAlarm } from "./queries";
import { FAULT, flowWord } from "./words";
import { t } from "./t";

/** What is wrong with the water at valves, until somebody has looked at it. */
export function ValveAlarms({ alarms, time }: { alarms: ValveAlarm[]; time: FarmTime }) {
  const { farm, may, units } = useSignedIn();
  const confirm = useConfirmAlarm(farm.slug);
  return (
    <Box>
      {confirm.error && <Notice error={confirm.error} />}
      {alarms.map((a) => (
        <Flex
          key={a.id}
          borderLeftWidth="3px"
          borderColor="rust"
          ps="3"
          py="1"
          my="3"
          gap="4"
          wrap={{ base: "wrap", md: "nowrap" }}
          justify="space-between"
          align="start"
          maxW="85ch"
        >
          <Box>
            <Text fontWeight="600">
              {t("valves.faultAt", { fault: FAULT[a.fault](), valve: a.valve })}
            </Text>
            <Text fontSize="sm">
              {t("valves.flowBeside", {
                flow: flowWord(a.flow_ls, units),
                expected: flowWord(a.expected_ls, units),
                when: time.full(new Date(a.began_at)),
              })}{" "}
              {a.ended_at && t("valves.overSince", { when: time.full(new Date(a.ended_at)) })}
            </Text>
            <Text fontSize="sm">{a.what_to_do}</Text>
          </Box>
          {may("operate_valves") && (
            <Button
              size="sm"
              variant="outline"
              flexShrink={0}
              loading={confirm.isPending && confirm.variables === a.id}
              onClick={() => confirm.mutate(a.id)}
            >
              {t("valves.iLooked")}
            </Button>
          )}
        </Flex>
      ))}
    </Box>
  );
}
