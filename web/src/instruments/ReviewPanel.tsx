import { Box, Button, Flex, Heading, Text } from "@chakra-ui/react";
import { useState } from "react";
import { LinkButton } from "../app/LinkButton";
import { Notice } from "../app/Notice";
import { Line } from "../form/Labelled";
import { Tick } from "../form/Tick";
import { useSignedIn } from "../session/context";
import type { FarmTime } from "../time/farmTime";
import { useSaveReview, useUndoReview, useReviews, type Detail, type Stretch } from "./queries";
import { depthLabel } from "./words";
import { t } from "./t";

interface Props {
  detail: Detail;
  time: FarmTime;
  stretch: Stretch;
}

/** A person's word on the stretch in view: doubt readings, or trust what a rule doubts. */
export function ReviewPanel({ detail, time, stretch }: Props) {
  const { farm, units, may } = useSignedIn();
  const reviews = useReviews(farm.slug, detail.health.id);
  const give = useSaveReview(farm.slug, detail.health.id);
  const undo = useUndoReview(farm.slug);
  const [channels, setChannels] = useState<number[]>([]);
  const [reason, setReason] = useState("");
  const depthOf = new Map(detail.channels.map((c) => [c.id, c.depth_mm]));
  const send = (trusted: boolean) =>
    give.mutate(
      { channels, first: stretch.first, last: stretch.last, trusted, reason },
      {
        onSuccess: () => {
          setChannels([]);
          setReason("");
        },
      },
    );
  return (
    <Box as="section" aria-label={t("instruments.reviewReadings")} mt="5" fontSize="sm">
      <Heading as="h2" size="md">
        {t("instruments.reviewReadings")}
      </Heading>
      {may("record_readings") && (
        <>
          <Text color="inkSoft" mb="2">
            {t("instruments.forThePeriodShownToNothingIs", {
              full: time.full(new Date(stretch.first)),
              full2: time.full(new Date(stretch.last)),
            })}
          </Text>
          <Flex gap="4" wrap="wrap" mb="2" role="group" aria-label={t("instruments.depths")}>
            {detail.channels.map((c) => (
              <Tick
                key={c.id}
                label={depthLabel(c.depth_mm, units)}
                on={channels.includes(c.id)}
                change={(on) =>
                  setChannels(on ? [...channels, c.id] : channels.filter((x) => x !== c.id))
                }
              />
            ))}
          </Flex>
          {channels.length > 0 && (
            <Flex gap="3" align="end" wrap="wrap">
              <Box w={{ base: "100%", sm: "320px" }}>
                <Line label={t("instruments.reason")} value={reason} change={setReason} />
              </Box>
              <Button
                size="sm"
                variant="outline"
                disabled={reason.trim() === ""}
                loading={give.isPending}
                onClick={() => send(false)}
              >
                {t("instruments.excludeReadings")}
              </Button>
              <Button
                size="sm"
                variant="outline"
                disabled={reason.trim() === ""}
                loading={give.isPending}
                onClick={() => send(true)}
              >
                {t("instruments.includeReadings")}
              </Button>
            </Flex>
          )}
        </>
      )}
      {(give.error ?? undo.error) && <Notice error={give.error ?? undo.error} />}
      {reviews.data?.map((v) => (
        <Text key={v.id} mt="2" color={v.undone_at ? "inkSoft" : "ink"}>
          <Text as="span" fontWeight="600">
            {v.trusted ? t("instruments.included") : t("instruments.excluded")}
          </Text>
          {t("instruments.toReadings", {
            map: v.channels.map((c) => depthLabel(depthOf.get(c) ?? null, units)).join(", "),
            full: time.full(new Date(v.first)),
            full2: time.full(new Date(v.last)),
            readings: v.readings,
            reason: v.reason,
            madeBy: v.made_by && ` (${v.made_by})`,
          })}{" "}
          {v.undone_at
            ? t("instruments.undoneBy2", { undoneBy: v.undone_by })
            : may("record_readings") && (
                <LinkButton onClick={() => undo.mutate(v.id)}>{t("instruments.undo")}</LinkButton>
              )}
        </Text>
      ))}
    </Box>
  );
}
