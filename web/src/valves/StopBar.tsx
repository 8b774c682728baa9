import { Box, Button, Flex, Text } from "@chakra-ui/react";
import { Link, useLocation } from "react-router";
import { useSignedIn } from "../session/context";
import { useFarmTime } from "../time/useFarmTime";
import { StopButton } from "./StopButton";
import { useRelease, useStopFailed, useValveWatch } from "./queries";
import { FAULT, flowWord } from "./words";
import { t } from "./t";

const MOST_ALARMS = 2;

/** Under the head of every screen: what is wrong at the valves; on a phone the stop as well. */
export function StopBar() {
  const { farm, may, units } = useSignedIn();
  const watch = useValveWatch(farm.slug);
  const release = useRelease(farm.slug);
  const notSent = useStopFailed();
  const time = useFarmTime();
  const data = watch.data;
  const stopped = data?.stop ?? null;
  const alarms = data?.alarms ?? [];
  const page = `/${farm.slug}/irrigation/valves`;
  // Where the valves are shown, their alarms are.
  const here = useLocation().pathname === page;
  const troubled =
    stopped !== null ||
    (alarms.length > 0 && !here) ||
    (data?.out_of_contact.length ?? 0) > 0 ||
    notSent ||
    release.error !== null ||
    watch.error !== null;
  return (
    <Flex
      role="region"
      aria-label={t("valves.valves")}
      className="not-printed"
      display={{ base: "flex", md: troubled ? "flex" : "none" }}
      borderBottomWidth="1px"
      borderColor={troubled ? "rust" : "rule"}
      bg={troubled ? "bg.error" : undefined}
      px={{ base: "3", md: "6" }}
      py="1"
      gap="4"
      wrap={{ base: troubled ? "wrap" : "nowrap", md: "nowrap" }}
      align="center"
      justify="space-between"
      fontSize="sm"
    >
      <Box role="status" minW="0">
        {notSent && (
          <Text fontWeight="600" color="rust">
            {t("valves.stopNotSent")}
          </Text>
        )}
        {release.error && <Text color="rust">{release.error.message}</Text>}
        {watch.error && <Text color="rust">{t("valves.notKnown")}</Text>}
        {stopped && (
          <Text>
            <b>
              {t("valves.stopIsOn", {
                when: time ? time.full(new Date(stopped.at)) : "",
                who: stopped.by ?? t("valves.somebody"),
              })}
            </b>{" "}
            {stopped.not_confirmed.length === 0
              ? t("valves.allClosed")
              : t("valves.notConfirmedBy", { names: stopped.not_confirmed.join(", ") })}
          </Text>
        )}
        {data && data.out_of_contact.length > 0 && (
          <Text>{t("valves.openWithoutContact", { names: data.out_of_contact.join(", ") })}</Text>
        )}
        {!here &&
          alarms.slice(0, MOST_ALARMS).map((a) => (
            <Text key={a.id}>
              <b>{t("valves.faultAt", { fault: FAULT[a.fault](), valve: a.valve })}</b>{" "}
              {t("valves.flowNow", { flow: flowWord(a.flow_ls, units) })}{" "}
              <Box as="span" hideBelow="md">
                {a.what_to_do}
              </Box>
            </Text>
          ))}
        {!here && alarms.length > MOST_ALARMS && (
          <Text>{t("valves.moreAlarms", { count: alarms.length - MOST_ALARMS })}</Text>
        )}
        <Link to={page} style={{ textDecoration: "underline" }}>
          {troubled || !data ? t("valves.toValves") : t("valves.someOpen", { count: data.open })}
        </Link>
      </Box>
      {stopped ? (
        may("operate_valves") && (
          <Button
            size="sm"
            variant="outline"
            flexShrink={0}
            loading={release.isPending}
            onClick={() => release.mutate(undefined)}
          >
            {t("valves.release")}
          </Button>
        )
      ) : (
        <Box hideFrom="md">
          <StopButton />
        </Box>
      )}
    </Flex>
  );
}
