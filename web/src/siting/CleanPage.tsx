import { Box, Button, Flex, Grid, Heading, Text } from "@chakra-ui/react";
import { useMemo, useState } from "react";
import { Link, useNavigate, useParams } from "react-router";
import { Loading } from "../app/Loading";
import { Notice } from "../app/Notice";
import { useWidth } from "../draw/useWidth";
import { NumberLine } from "../form/NumberLine";
import { RemoveButton } from "../form/RemoveButton";
import { useSettled } from "../form/useSettled";
import { useSignedIn } from "../session/context";
import { ink } from "../theme/system";
import { count, number } from "../units/format";
import type { Ring } from "./AreaDraft";
import { openedPoints } from "./layerPoints";
import { PointPlan, REASONS } from "./PointPlan";
import { useChangeLayer, useDeleteLayer, useLayerPoints, type LayerPoints } from "./queries";
import { RuleSliders } from "./RuleSliders";
import { rulesOf, type Rule } from "./rules";
import { t } from "./t";
import { DROPPED } from "./words";

interface Trial {
  rules: Partial<Record<Rule, number>>;
  back: number[];
  aside: number[];
  area: { ring: Ring; leave_out: boolean } | null;
}

/** A layer's points on the plan: which are left out and why, under rules that can be moved. */
export function CleanPage() {
  const { farm } = useSignedIn();
  const params = useParams();
  const [block, layer] = [Number(params.block), Number(params.layer)];
  const stored = useLayerPoints(farm.slug, layer, null);
  return (
    <Box maxW="1400px">
      <Text fontSize="sm" color="inkSoft">
        <Link to={`/${farm.slug}/blocks/${block}/siting`}>{t("siting.backToBlock")}</Link>
      </Text>
      {stored.error ? (
        <Notice error={stored.error} retry={() => void stored.refetch()} />
      ) : stored.data ? (
        <Clean key={layer} block={block} layer={layer} stored={stored.data} />
      ) : (
        <Loading what={t("siting.loadingPoints")} />
      )}
    </Box>
  );
}

function Clean({ block, layer, stored }: { block: number; layer: number; stored: LayerPoints }) {
  const { farm, may } = useSignedIn();
  const editable = may("set_up_ground");
  const [ref, width] = useWidth();
  const [trial, setTrial] = useState<Trial>({
    rules: stored.cleaning,
    back: stored.put_back,
    aside: stored.put_aside,
    area: null,
  });
  const [draft, setDraft] = useState<Ring | null>(null);
  const [selected, setSelected] = useState(-1);
  const [rain, setRain] = useState(stored.rain_mm);
  const asked = useSettled(JSON.stringify(bodyOf(trial)), 200);
  const tried = useLayerPoints(farm.slug, layer, asked);
  const change = useChangeLayer(farm.slug, block);
  const remove = useDeleteLayer(farm.slug);
  const navigate = useNavigate();
  const leave = () => void navigate(`/${farm.slug}/blocks/${block}/siting`);
  const shown = tried.data ?? stored;
  const points = useMemo(() => openedPoints(shown), [shown]);
  // What an area did to points by hand is told by the answer.
  const back = trial.area ? shown.put_back : trial.back;
  const aside = trial.area ? shown.put_aside : trial.aside;
  const byHand = (part: Partial<Trial>) => setTrial({ ...trial, back, aside, area: null, ...part });
  const around = (leave_out: boolean) => {
    byHand({ area: draft && { ring: draft, leave_out } });
    setDraft(null);
  };
  const save = () =>
    change.mutate(
      {
        layer,
        body: {
          used: stored.used,
          rain_mm: rain,
          cleaning: trial.rules,
          put_back: back,
          put_aside: aside,
        },
      },
      { onSuccess: leave },
    );
  const why = selected >= 0 ? (points.why[selected] ?? 0) : 0;
  const at = points.number[selected];
  const words = t("siting.pointIs", {
    value: number(points.value[selected], 2),
    unit: shown.unit,
    what: DROPPED[shown.reasons[why] ?? ""] ?? "",
  });
  return (
    <>
      <Heading as="h1" size="2xl" fontWeight="700" mb="3">
        {t("siting.cleanPoints", { layer: shown.name })}
      </Heading>
      <Grid templateColumns={{ base: "minmax(0, 1fr)", lg: "minmax(0, 1fr) 360px" }} columnGap="7">
        <Box minW="0">
          <Reasons shown={shown} />
          <Box ref={ref}>
            {width > 0 && (
              <PointPlan
                layer={shown}
                points={points}
                width={width}
                selected={selected}
                words={words}
                select={setSelected}
                draft={draft}
                addCorner={(corner) => setDraft([...(draft ?? []), corner])}
              />
            )}
          </Box>
          <Text fontSize="sm" color="inkSoft" mt="1" role="status">
            {tried.isFetching
              ? t("siting.tryingRules")
              : points.count < shown.count
                ? t("siting.someDrawn", { drawn: count(points.count), all: count(shown.count) })
                : t("siting.pointHint")}
          </Text>
          {tried.error && <Notice error={tried.error} />}
          {editable && !draft && (
            <Flex gap="3" align="center" wrap="wrap" mt="2">
              {at !== undefined && (
                <>
                  <Text fontSize="sm">{words}</Text>
                  {why === 0 ? (
                    <Button
                      size="sm"
                      variant="outline"
                      onClick={() =>
                        byHand({ back: back.filter((n) => n !== at), aside: [...aside, at] })
                      }
                    >
                      {t("siting.leaveOut")}
                    </Button>
                  ) : (
                    <Button
                      size="sm"
                      variant="outline"
                      disabled={why < 3}
                      onClick={() =>
                        byHand({ back: [...back, at], aside: aside.filter((n) => n !== at) })
                      }
                    >
                      {t("siting.putBack")}
                    </Button>
                  )}
                </>
              )}
              <Button size="sm" variant="outline" onClick={() => setDraft([])}>
                {t("siting.drawAroundPoints")}
              </Button>
              {back.length + aside.length > 0 && (
                <Button size="sm" variant="ghost" onClick={() => byHand({ back: [], aside: [] })}>
                  {t("siting.asByRules", { count: back.length + aside.length })}
                </Button>
              )}
            </Flex>
          )}
          {draft && (
            <Flex as="section" gap="3" align="center" wrap="wrap" mt="2">
              <Button size="sm" disabled={draft.length < 3} onClick={() => around(true)}>
                {t("siting.leaveOutInside")}
              </Button>
              <Button size="sm" disabled={draft.length < 3} onClick={() => around(false)}>
                {t("siting.putBackInside")}
              </Button>
              <Button size="sm" variant="ghost" onClick={() => setDraft(null)}>
                {t("siting.cancel")}
              </Button>
            </Flex>
          )}
        </Box>
        <Box minW="0" mt={{ base: "5", lg: "0" }}>
          {shown.not_checked.map((what) => (
            <Text key={what} fontSize="sm" color="inkSoft" mb="2">
              {t("siting.notChecked", { what: DROPPED[what] ?? what })}
            </Text>
          ))}
          <RuleSliders
            rules={rulesOf(shown.kind)}
            values={trial.rules}
            change={(rules) => setTrial({ ...trial, back, aside, area: null, rules })}
            fixed={!editable}
          />
          {shown.kind === "yield" && (
            <Box maxW="160px" mt="3">
              <NumberLine
                label={t("siting.rainOfSeason")}
                value={rain}
                change={setRain}
                measured="water"
                disabled={!editable}
              />
            </Box>
          )}
          {editable && (
            <Flex gap="3" mt="4" wrap="wrap">
              <Button
                size="sm"
                loading={change.isPending}
                disabled={tried.isFetching}
                onClick={save}
              >
                {t("siting.makeLayerAgain")}
              </Button>
              <RemoveButton
                words={t("siting.deleteLayer")}
                pending={remove.isPending}
                press={() => remove.mutate(layer, { onSuccess: leave })}
              />
            </Flex>
          )}
          {change.error && <Notice error={change.error} />}
          {remove.error && <Notice error={remove.error} />}
        </Box>
      </Grid>
    </>
  );
}

const bodyOf = (trial: Trial) => ({
  cleaning: trial.rules,
  put_back: trial.back,
  put_aside: trial.aside,
  area: trial.area,
});

/** How many points there are of each kind, in the colours of the plan. */
function Reasons({ shown }: { shown: LayerPoints }) {
  return (
    <Flex wrap="wrap" columnGap="4" rowGap="1" fontSize="sm" mb="2">
      {shown.reasons.map((why, i) => {
        const found = shown.dropped[why] ?? 0;
        if (found === 0) return null;
        return (
          <Flex key={why} align="center" gap="1.5">
            <svg width="12" height="12" aria-hidden>
              <rect width="12" height="12" fill={ink(REASONS[i] ?? "ink")} />
            </svg>
            {DROPPED[why]} {count(found)}
          </Flex>
        );
      })}
    </Flex>
  );
}
