import { Grid, Text } from "@chakra-ui/react";
import { useState } from "react";
import { Notice } from "../app/Notice";
import { FormSheet } from "../form/FormSheet";
import { Choice, Line } from "../form/Labelled";
import { useSignedIn } from "../session/context";
import type { FarmTime } from "../time/farmTime";
import { runningTime, withUnit } from "../units/format";
import { Cautions } from "./Cautions";
import { useConfirmOpening, usePrepare, type Prepared, type ToOpen, type Valve } from "./queries";
import { t } from "./t";

interface Props {
  valve: Valve;
  scheduled: ToOpen[];
  longestMin: number | null;
  time: FarmTime;
  close: () => void;
}

const USUAL_MIN = 60;

/** Opens a valve in two steps: how long and for what, then what will happen, to be confirmed. */
export function OpenSheet({ valve, scheduled, longestMin, time, close }: Props) {
  const { farm } = useSignedIn();
  const first = scheduled[0];
  const [irrigation, setIrrigation] = useState(first ? String(first.id) : "");
  const [minutes, setMinutes] = useState(
    String(Math.round(Math.min(first?.minutes ?? USUAL_MIN, longestMin ?? Infinity))),
  );
  const [wrong, setWrong] = useState(false);
  const prepare = usePrepare(farm.slug);
  const confirm = useConfirmOpening(farm.slug);
  const made = prepare.data;
  const choose = (id: string) => {
    setIrrigation(id);
    const meant = scheduled.find((s) => String(s.id) === id);
    if (meant) setMinutes(String(Math.round(Math.min(meant.minutes, longestMin ?? Infinity))));
  };
  const look = () => {
    const asked = Number(minutes.replace(",", "."));
    setWrong(!(asked > 0));
    if (!(asked > 0)) return;
    prepare.mutate({
      valve: valve.id,
      minutes: asked,
      irrigation_id: irrigation ? Number(irrigation) : null,
    });
  };
  return (
    <FormSheet
      title={t("valves.openValve", { valve: valve.name })}
      close={close}
      save={() => (made ? confirm.mutate(made.command_id, { onSuccess: close }) : look())}
      words={made ? t("valves.openNow") : t("valves.next")}
      pending={prepare.isPending || confirm.isPending}
    >
      {made ? (
        <WhatHappens made={made} time={time} />
      ) : (
        <Grid gap="3">
          {scheduled.length > 0 && (
            <Choice label={t("valves.forIrrigation")} value={irrigation} change={choose}>
              {scheduled.map((s) => (
                <option key={s.id} value={String(s.id)}>
                  {t("valves.scheduledFor", {
                    when: time.full(new Date(s.starts_at)),
                    hours: runningTime(s.minutes / 60),
                  })}
                </option>
              ))}
              <option value="">{t("valves.notScheduled")}</option>
            </Choice>
          )}
          <Line
            label={t("valves.stayOpen")}
            value={minutes}
            change={setMinutes}
            unit={t("valves.min")}
            numeric
            error={wrong ? t("valves.enterMinutes") : undefined}
            help={
              longestMin === null
                ? undefined
                : t("valves.longest", { time: runningTime(longestMin / 60) })
            }
          />
        </Grid>
      )}
      {prepare.error && <Notice error={prepare.error} />}
      {confirm.error && <Notice error={confirm.error} />}
    </FormSheet>
  );
}

/** What is confirmed. */
function WhatHappens({ made, time }: { made: Prepared; time: FarmTime }) {
  const { units } = useSignedIn();
  return (
    <>
      <Text>
        {t("valves.willOpen", {
          valve: made.valve,
          time: runningTime(made.minutes / 60),
          at: time.full(new Date(made.closes_at)),
        })}
      </Text>
      {made.block !== null && <Text>{t("valves.waters", { block: made.block })}</Text>}
      {made.expected_m3 !== null && (
        <Text>{t("valves.willGive", { volume: withUnit(made.expected_m3, units, "volume") })}</Text>
      )}
      <Cautions />
      <Text fontSize="sm" color="inkSoft">
        {t("valves.confirmWithin", { seconds: made.confirm_within_s })}
      </Text>
    </>
  );
}
