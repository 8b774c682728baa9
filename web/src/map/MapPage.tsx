import { Box, Button, Flex, Grid, Heading, Text } from "@chakra-ui/react";
import { useEffect, useMemo, useState } from "react";
import { Link } from "react-router";
import { StateMark } from "../answer/StateMark";
import type { State } from "../answer/types";
import { LinkButton } from "../app/LinkButton";
import { Loading } from "../app/Loading";
import { Notice } from "../app/Notice";
import { isTyping } from "../app/typing";
import { useBoard } from "../board/queries";
import { useWidth } from "../draw/useWidth";
import { Choice, Line } from "../form/Labelled";
import { useSettled } from "../form/useSettled";
import { useSignedIn } from "../session/context";
import { figure, measure, number, withUnit } from "../units/format";
import { ImportMap } from "./ImportMap";
import { MapKey } from "./MapKey";
import { linesOf, polygonOf, type Geometry, type LonLat } from "./planScale";
import { PlanView } from "./PlanView";
import {
  useAddFeature,
  useDeleteFeature,
  useFarmMap,
  useMeasure,
  useSetOutline,
  useSplit,
  type FarmMap,
  type FeatureKind,
  type MapBlock,
} from "./queries";
import { t } from "./t";

type Mode = "look" | "draw" | "edit" | "cut" | "feature";

const KINDS: { kind: FeatureKind; type: "Point" | "LineString" | "Polygon" }[] = [
  { kind: "pipe", type: "LineString" },
  { kind: "pump", type: "Point" },
  { kind: "instrument", type: "Point" },
  { kind: "tree line", type: "LineString" },
  { kind: "fence", type: "LineString" },
  { kind: "track", type: "LineString" },
  { kind: "building", type: "Polygon" },
  { kind: "wet spot", type: "Polygon" },
  { kind: "spring", type: "Point" },
  { kind: "no probe", type: "Polygon" },
  { kind: "pivot", type: "Point" },
  { kind: "gate", type: "Point" },
  { kind: "base station", type: "Point" },
  { kind: "soil zone", type: "Polygon" },
];

const HINTS: Record<Mode, string> = {
  look: t("map.clickABlockScrollToZoomDrag"),
  draw: t("map.clickTheCornersInTurnBackspace"),
  edit: t("map.dragACornerDragAPaleDot"),
  cut: t("map.clickWhereTheCutBeginsOutsideThe"),
  feature: t("map.clickWhereItIsOrRuns"),
};

/** The farm's map: outlines drawn, edited, cut, brought in and taken out; areas compared. */
export function MapPage() {
  const { farm } = useSignedIn();
  const map = useFarmMap(farm.slug);
  if (map.isPending) return <Loading what={t("map.loadingTheMap")} />;
  if (map.error) return <Notice error={map.error} retry={() => void map.refetch()} />;
  return <FarmPlan map={map.data} />;
}

function FarmPlan({ map }: { map: FarmMap }) {
  const { farm, units, may } = useSignedIn();
  const board = useBoard(farm.slug);
  const states = useMemo(
    () => new Map(board.data?.rows.map((r) => [r.id, r.answer.state])),
    [board.data],
  );
  const [ref, width] = useWidth();
  const [chosen, setChosen] = useState<number | null>(null);
  const [mode, setMode] = useState<Mode>("look");
  const [draft, setDraft] = useState<LonLat[] | null>(null);
  const [name, setName] = useState("");
  const [kind, setKind] = useState<FeatureKind>("pipe");
  const [importing, setImporting] = useState(false);
  const outline = useSetOutline(farm.slug);
  const split = useSplit(farm.slug);
  const add = useAddFeature(farm.slug);
  const block = map.blocks.find((b) => b.id === chosen) ?? null;
  const type = KINDS.find((k) => k.kind === kind)?.type ?? "LineString";
  const closed = mode === "draw" || mode === "edit" || (mode === "feature" && type === "Polygon");
  const shape = draft && closed && draft.length > 2 ? polygonOf(draft) : null;
  const measured = useMeasure(
    farm.slug,
    useSettled(mode === "draw" || mode === "edit" ? shape : null, 200),
    block?.id ?? null,
  );
  const editable = may("set_up_ground");
  const error = outline.error ?? split.error ?? add.error;

  function start(next: Mode, corners: LonLat[] | null = []) {
    outline.reset();
    split.reset();
    add.reset();
    setName("");
    setMode(next);
    setDraft(next === "look" ? null : corners);
  }

  useEffect(() => {
    function press(event: KeyboardEvent) {
      if (mode === "look" || isTyping(event)) return;
      if (event.key === "Escape") start("look");
      if (event.key === "Backspace") setDraft((d) => (d ? d.slice(0, -1) : d));
    }
    window.addEventListener("keydown", press);
    return () => window.removeEventListener("keydown", press);
  });

  function save() {
    if (!draft) return;
    const done = { onSuccess: () => start("look") };
    if ((mode === "draw" || mode === "edit") && block && shape) {
      outline.mutate({ block: block.id, geometry: shape, takeArea: false }, done);
    } else if (mode === "cut" && block) {
      split.mutate({ block: block.id, line: draft, name }, done);
    } else if (mode === "feature") {
      const geometry: Geometry =
        type === "Point"
          ? { type, coordinates: draft[0] }
          : type === "LineString"
            ? { type, coordinates: draft }
            : polygonOf(draft);
      add.mutate({ kind, name, geometry }, done);
    }
  }

  const enough =
    (draft?.length ?? 0) >= (closed ? 3 : mode === "feature" && type === "Point" ? 1 : 2);
  return (
    <Grid
      templateColumns={{ base: "minmax(0, 1fr)", lg: "minmax(0, 1fr) 330px" }}
      gap="6"
      maxW="1700px"
    >
      <Box ref={ref} minW="0">
        {width > 0 && (
          <PlanView
            map={map}
            extra={[]}
            width={width}
            height={Math.min(Math.max(width * 0.68, 320), 620)}
            units={units}
            states={states}
            chosen={chosen}
            choose={setChosen}
            draft={draft}
            closed={closed}
            editing={mode === "edit"}
            setDraft={(d) => setDraft(mode === "feature" && type === "Point" ? d.slice(-1) : d)}
          />
        )}
        <Text fontSize="sm" color="inkSoft" mt="2" aria-live="polite">
          {HINTS[mode]}
        </Text>
        <MapKey map={map} states={states} />
      </Box>
      <Box>
        {mode === "look" ? (
          <>
            {editable && (
              <Flex gap="2" wrap="wrap" mb="4">
                <Button size="sm" variant="outline" onClick={() => setImporting(true)}>
                  {t("map.importOutlines")}
                </Button>
                <Button asChild size="sm" variant="outline">
                  <a href={`/api/farms/${farm.slug}/map/export`} download>
                    {t("map.exportGeojson")}
                  </a>
                </Button>
                <Button size="sm" variant="ghost" onClick={() => start("feature")}>
                  {t("map.addToTheMapMore")}
                </Button>
              </Flex>
            )}
            {block ? (
              <BlockPanel
                block={block}
                state={states.get(block.id)}
                start={start}
                takeArea={() =>
                  outline.mutate({
                    block: block.id,
                    geometry: block.geometry as unknown as Geometry,
                    takeArea: true,
                  })
                }
                remove={() => outline.mutate({ block: block.id, geometry: null, takeArea: false })}
              />
            ) : (
              <Overview map={map} choose={setChosen} />
            )}
          </>
        ) : (
          <Box>
            <Heading as="h2" size="lg">
              {mode === "cut"
                ? t("map.split", { name: block?.name ?? "" })
                : mode === "feature"
                  ? t("map.addToTheMap")
                  : t("map.outlineOf", { name: block?.name ?? "" })}
            </Heading>
            {mode === "feature" && (
              <Box mt="2">
                <Choice
                  label={t("map.what")}
                  value={kind}
                  change={(k) => {
                    setKind(k as FeatureKind);
                    setDraft([]);
                  }}
                >
                  {KINDS.map((k) => (
                    <option key={k.kind} value={k.kind}>
                      {t(`map.${k.kind}`)}
                    </option>
                  ))}
                </Choice>
              </Box>
            )}
            {(mode === "cut" || mode === "feature") && (
              <Box mt="2">
                <Line
                  label={mode === "cut" ? t("map.nameOfTheSmallerPart") : t("map.name")}
                  value={name}
                  change={setName}
                />
              </Box>
            )}
            {(mode === "draw" || mode === "edit") && measured.data && shape && (
              <Text mt="2">
                <b>{withUnit(measured.data.area_m2, units, "area", 3)}</b>{" "}
                {t("map.onTheEllipsoidEntered", {
                  area: withUnit(block?.area_m2, units, "area", 3),
                })}
              </Text>
            )}
            {measured.data?.problem && shape && (
              <Text mt="1" color="rust" fontSize="sm" role="alert">
                {measured.data.problem}
              </Text>
            )}
            {error && <Notice error={error} />}
            <Flex gap="2" mt="3">
              <Button
                size="sm"
                disabled={!enough}
                loading={outline.isPending || split.isPending || add.isPending}
                onClick={save}
              >
                {mode === "cut" ? t("map.splitHere") : t("map.save")}
              </Button>
              <Button size="sm" variant="ghost" onClick={() => start("look")}>
                {t("map.cancel")}
              </Button>
            </Flex>
          </Box>
        )}
        {mode === "look" && error && <Notice error={error} />}
      </Box>
      {importing && <ImportMap map={map} close={() => setImporting(false)} />}
    </Grid>
  );
}

interface PanelProps {
  block: MapBlock;
  state: State | undefined;
  start: (mode: Mode, corners?: LonLat[]) => void;
  takeArea: () => void;
  remove: () => void;
}

function BlockPanel({ block, state, start, takeArea, remove }: PanelProps) {
  const { farm, units, may } = useSignedIn();
  const geometry = block.geometry as unknown as Geometry | null;
  const ring = geometry?.type === "Polygon" ? (linesOf(geometry)[0] ?? []).slice(0, -1) : null;
  const off = block.outline_m2 === null ? null : block.outline_m2 / block.area_m2 - 1;
  return (
    <Box as="section" aria-labelledby="block">
      <Heading as="h2" id="block" size="lg">
        {block.name}
      </Heading>
      <Text color="inkSoft" fontSize="sm">
        {[block.crop, block.soil].filter(Boolean).join(" · ")}
      </Text>
      {state && (
        <Flex align="center" gap="2" mt="1" fontWeight="600">
          <StateMark state={state} /> {t(`state.${state}`)}
        </Flex>
      )}
      <Flex gap="2" mt="2" mb="3">
        <Button asChild size="sm">
          <Link to={`/${farm.slug}/blocks/${block.id}`}>{t("map.openBlock")}</Link>
        </Button>
        <Button asChild size="sm" variant="outline">
          <Link to={`/${farm.slug}/blocks/${block.id}/limits`}>{t("map.limits")}</Link>
        </Button>
      </Flex>
      <Text mt="2">
        {t("map.enteredArea")} <b>{withUnit(block.area_m2, units, "area", 3)}</b>
        {block.outline_m2 !== null && (
          <>
            {t("map.outlined")} <b>{withUnit(block.outline_m2, units, "area", 3)}</b>
          </>
        )}
      </Text>
      {off !== null && (
        <Text fontSize="sm" color={Math.abs(off) > 0.03 ? "rust" : "inkSoft"}>
          {Math.abs(off) < 0.0005
            ? `${t("map.theOutlineHasTheAreaEntered")} `
            : `${t("map.theOutlineIsThanTheAreaEntered", { off: number(Math.abs(off) * 100, 1), off2: off > 0 ? "yes" : "no" })} `}
          {may("set_up_ground") && Math.abs(off) > 0.0005 && (
            <LinkButton onClick={takeArea}>{t("map.useTheOutlinesArea")}</LinkButton>
          )}
        </Text>
      )}
      {may("set_up_ground") && (
        <Flex gap="2" mt="3" wrap="wrap">
          <Button size="xs" variant="outline" onClick={() => start("draw")}>
            {geometry ? t("map.redrawOutline") : t("map.drawOutline")}
          </Button>
          {ring && ring.length <= 120 && (
            <Button size="xs" variant="outline" onClick={() => start("edit", ring)}>
              {t("map.editCorners")}
            </Button>
          )}
          {geometry && (
            <Button size="xs" variant="outline" onClick={() => start("cut")}>
              {t("map.splitBlock")}
            </Button>
          )}
          {geometry && (
            <Button size="xs" variant="ghost" onClick={remove}>
              {t("map.removeOutline")}
            </Button>
          )}
        </Flex>
      )}
    </Box>
  );
}

function Overview({ map, choose }: { map: FarmMap; choose: (id: number) => void }) {
  const { farm, units, may } = useSignedIn();
  const remove = useDeleteFeature(farm.slug);
  const without = map.blocks.filter((b) => !b.geometry);
  const outlined = map.blocks.reduce((sum, b) => sum + (b.outline_m2 ?? 0), 0);
  return (
    <Box>
      <Text>
        {t("map.blocksOutlined", {
          count: map.blocks.length - without.length,
          outlined: figure(outlined, units, "area", 1),
          label: measure(units, "area").label,
        })}
      </Text>
      {without.length > 0 && (
        <Text mt="1" fontSize="sm">
          {t("map.withoutAnOutline")}{" "}
          {without.slice(0, 12).map((b, i) => (
            <span key={b.id}>
              {i > 0 && ", "}
              <LinkButton onClick={() => choose(b.id)}>{b.name}</LinkButton>
            </span>
          ))}
          {without.length > 12 && ` ${t("map.andMore", { count: without.length - 12 })}`}.
        </Text>
      )}
      {map.features.length > 0 && (
        <Box mt="4">
          <Heading as="h2" size="md">
            {t("map.alsoOnTheMap")}
          </Heading>
          {map.features.map((f) => (
            <Flex key={f.id} justify="space-between" fontSize="sm" align="center">
              <Text>
                {f.name}{" "}
                <span style={{ opacity: 0.75 }}>
                  ({t(`map.${f.kind}`)}
                  {f.surveyed && `, ${t("map.surveyedNotSeen")}`})
                </span>
              </Text>
              {may("set_up_ground") && (
                <Button
                  size="2xs"
                  variant="ghost"
                  aria-label={t("map.removeFromTheMap", { name: f.name })}
                  onClick={() => remove.mutate(f.id)}
                >
                  {t("map.remove")}
                </Button>
              )}
            </Flex>
          ))}
          {remove.error && <Notice error={remove.error} />}
        </Box>
      )}
    </Box>
  );
}
