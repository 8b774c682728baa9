import { Box, Button, Flex, Heading, Text } from "@chakra-ui/react";
import { useState } from "react";
import type { Schemas } from "../api/client";
import { CautionNote } from "../app/CautionNote";
import { Loading } from "../app/Loading";
import { Notice } from "../app/Notice";
import { Choice } from "../form/Labelled";
import { MomentLine } from "../form/MomentLine";
import { useSignedIn } from "../session/context";
import type { FarmTime } from "../time/farmTime";
import { figure, measure } from "../units/format";
import { FeelDrawing } from "./FeelDrawing";
import { localInput } from "../time/localInput";
import { useFeel, useRecord, type Instrument } from "./queries";
import { t } from "./t";

type Group = Schemas["FeelGroup"];
type Layer = Schemas["FeelLayerOut"];

/** A check by hand, layer by layer: what is found, what is left, what is lacking. */
export function FeelCheck({ instrument, time }: { instrument: Instrument; time: FarmTime }) {
  const { farm } = useSignedIn();
  const feel = useFeel(farm.slug, instrument.id);
  if (feel.isPending) return <Loading what={t("readings.loadingTheFeelCheck")} />;
  if (feel.error) return <Notice error={feel.error} retry={() => void feel.refetch()} />;
  return <Check instrument={instrument} time={time} feel={feel.data} />;
}

interface CheckProps {
  instrument: Instrument;
  time: FarmTime;
  feel: Schemas["FeelCheckOut"];
}

function Check({ instrument, time, feel }: CheckProps) {
  const { farm, units } = useSignedIn();
  const record = useRecord(farm.slug, instrument.id);
  const [at, setAt] = useState(() => localInput(time));
  const [groups, setGroups] = useState<Record<number, Group>>({});
  const [steps, setSteps] = useState<Record<number, number>>({});
  const chosen = feel.layers.filter((x) => steps[x.channel_id] !== undefined);
  const water = measure(units, "water").label;

  const lacking = chosen.reduce(
    (sum, x) => sum + (x.deficits_mm[steps[x.channel_id] ?? 0] ?? 0),
    0,
  );

  function stepsOf(layer: Layer) {
    const group = groups[layer.channel_id] ?? layer.group;
    return feel.groups.find((g) => g.group === group)?.steps ?? [];
  }

  function depths(layer: Layer) {
    return t("readings.to", {
      top: figure(layer.top_mm, units, "depth"),
      bottom: figure(layer.bottom_mm, units, "depth"),
      label: measure(units, "depth").label,
    });
  }

  return (
    <Box>
      <Box w="260px" mb="4">
        <MomentLine label={t("readings.feltAt", { zone: time.zone })} value={at} change={setAt} />
      </Box>
      {feel.cautions.map((text) => (
        <CautionNote key={text}>{text}</CautionNote>
      ))}
      {feel.layers.map((layer) => {
        const step = steps[layer.channel_id];
        const lack = step === undefined ? null : layer.deficits_mm[step];
        return (
          <Box as="section" key={layer.channel_id} mb="6" aria-label={depths(layer)}>
            <Flex gap="4" align="end" wrap="wrap" mb="2">
              <Heading as="h3" size="md">
                {depths(layer)}
              </Heading>
              <Box w="350px" maxW="100%">
                <Choice
                  label={t("readings.feltAs")}
                  value={groups[layer.channel_id] ?? layer.group}
                  change={(g) => setGroups({ ...groups, [layer.channel_id]: g as Group })}
                >
                  {feel.groups.map((g) => (
                    <option key={g.group} value={g.group}>
                      {g.name}
                    </option>
                  ))}
                </Choice>
              </Box>
              <Text color="inkSoft" fontSize="sm" role="status">
                {t("readings.holdsWhenFull", {
                  available: figure(layer.available_mm, units, "water"),
                  water,
                })}
                {lack !== null && lack !== undefined && (
                  <Text as="span" color="ink" fontWeight="600">
                    {t("readings.deficit", { lack: figure(lack, units, "water"), water })}
                  </Text>
                )}
              </Text>
            </Flex>
            <Flex
              role="radiogroup"
              aria-label={t("readings.howFeels", { depths: depths(layer) })}
              gap="2"
              wrap="wrap"
            >
              {stepsOf(layer).map((s, k) => (
                <Box
                  as="button"
                  key={s.hand}
                  role="radio"
                  aria-checked={step === k}
                  w={{ base: "100%", sm: "calc(50% - 8px)", md: "188px" }}
                  textAlign="start"
                  p="2"
                  bg="sheet"
                  borderWidth="2px"
                  borderColor={step === k ? "water" : "rule"}
                  borderRadius="l2"
                  cursor="pointer"
                  onClick={() => setSteps({ ...steps, [layer.channel_id]: k })}
                >
                  <Flex justify="space-between" align="center">
                    <Text fontWeight="600" fontSize="sm">
                      {s.low === s.high
                        ? t("readings.full")
                        : t("readings.toLeft", {
                            round: Math.round(s.low * 100),
                            round2: Math.round(s.high * 100),
                          })}
                    </Text>
                    <FeelDrawing drawing={s.drawing} />
                  </Flex>
                  <Text fontSize="xs" color="inkSoft">
                    {s.hand}
                  </Text>
                </Box>
              ))}
            </Flex>
          </Box>
        );
      })}
      <Text mb="2" role="status">
        {chosen.length === 0
          ? t("readings.chooseHowEachLayerFeelsALayer")
          : t("readings.ofLayersFeltDeficitTogetherAFeel", {
              count: chosen.length,
              count2: feel.layers.length,
              lacking: figure(lacking, units, "water"),
              water,
            })}
      </Text>
      {record.error && <Notice error={record.error} />}
      {record.data && (
        <Text fontWeight="600" role="status">
          {t("readings.savedNewChanged", { new: record.data.new, changed: record.data.changed })}
        </Text>
      )}
      <Button
        size="sm"
        disabled={chosen.length === 0}
        loading={record.isPending}
        onClick={() =>
          record.mutate(
            {
              time: at,
              unit: "% available",
              values: chosen.map((x) => ({
                channel_id: x.channel_id,
                value: (stepsOf(x)[steps[x.channel_id] ?? 0]?.available ?? 0) * 100,
              })),
            },
            { onSuccess: () => setSteps({}) },
          )
        }
      >
        {t("readings.saveFeelCheck")}
      </Button>
    </Box>
  );
}
