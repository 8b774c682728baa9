import { Box, Button, Flex, Grid, Heading, Text } from "@chakra-ui/react";
import { useState } from "react";
import { Link, useNavigate, useParams } from "react-router";
import { Loading } from "../app/Loading";
import { Notice } from "../app/Notice";
import { DateLine } from "../form/DateLine";
import { Line } from "../form/Labelled";
import { problemsOf } from "../form/problems";
import { useSettled } from "../form/useSettled";
import { useSignedIn } from "../session/context";
import { forForm, type UnitSystem } from "../units/format";
import { ByHand } from "./ByHand";
import { HorizonFields } from "./HorizonFields";
import {
  BY_FRACTIONS,
  EMPTY_HORIZON,
  firstHorizons,
  horizonFieldOf,
  horizonForm,
  horizonsIn,
  plain,
  type HorizonForm,
} from "./horizonForm";
import { Methods } from "./Methods";
import { ProfileDrawing } from "./ProfileDrawing";
import {
  usePreview,
  useSaveSoil,
  useSeenOnSoil,
  useSoil,
  useTextures,
  type SoilOut,
  type Textures,
} from "./queries";
import { SeenOnBlocks } from "./SeenOnBlocks";
import { RetentionPlot } from "./RetentionPlot";
import { Triangle } from "./Triangle";
import { t } from "./t";

/** A soil of the library, new or there. */
export function SoilEditor() {
  const { soil: param } = useParams();
  const { farm, units } = useSignedIn();
  const id = param === undefined || param === "new" ? null : Number(param);
  const soil = useSoil(farm.slug, id);
  const textures = useTextures();
  const error = textures.error ?? soil.error;
  if (error) return <Notice error={error} />;
  if (!textures.data || (id !== null && !soil.data))
    return <Loading what={t("soils.loadingTheSoil")} />;
  return (
    <Editor
      key={`${id}-${units}`}
      id={id}
      soil={soil.data ?? null}
      textures={textures.data}
      units={units}
    />
  );
}

interface EditorProps {
  id: number | null;
  soil: SoilOut | null;
  textures: Textures;
  units: UnitSystem;
}

type Errors = Partial<Record<keyof HorizonForm, string>>;

function errorsOf(problems: Record<string, string>, index: number): Errors {
  const out: Errors = {};
  for (const [path, message] of Object.entries(problems)) {
    const at = horizonFieldOf(path);
    if (at?.index === index) out[at.field] = message;
  }
  return out;
}

function Editor({ id, soil, textures, units }: EditorProps) {
  const { farm, may } = useSignedIn();
  const navigate = useNavigate();
  const [name, setName] = useState(soil?.name ?? "");
  const [note, setNote] = useState(soil?.note ?? "");
  const [horizons, setHorizons] = useState<HorizonForm[]>(
    soil ? soil.horizons.map((h) => horizonForm(h, units)) : firstHorizons(units),
  );
  const [chosen, setChosen] = useState(0);
  const [byHand, setByHand] = useState(false);
  const [fromOn, setFromOn] = useState("");
  const [reason, setReason] = useState("");
  const save = useSaveSoil(farm.slug, id);
  const typedHorizons = horizonsIn(horizons, units, soil?.horizons);
  const seen = useSeenOnSoil(farm.slug, id).data ?? [];
  const preview = usePreview(farm.slug, useSettled({ horizons: typedHorizons }, 250));
  const problems = { ...problemsOf(preview.error), ...problemsOf(save.error) };
  const index = Math.min(chosen, horizons.length - 1);
  const horizon = horizons[index] ?? EMPTY_HORIZON;
  const limits = preview.data?.horizons[index];
  const library = `/${farm.slug}/farm/soils`;
  const editable = may("set_up_ground");
  const inUse = (soil?.blocks.length ?? 0) > 0;
  const elsewhere = Object.keys(problems)
    .map(horizonFieldOf)
    .find((p) => p && p.index !== index);

  function change(changes: Partial<HorizonForm>) {
    setHorizons(horizons.map((h, i) => (i === index ? { ...h, ...changes } : h)));
  }

  function pick(sand: number, clay: number) {
    const silt = 100 - sand - clay;
    change({
      texture: BY_FRACTIONS,
      sand: String(sand),
      silt: String(silt),
      clay: String(clay),
    });
  }

  const fractions = horizon.texture === BY_FRACTIONS;
  return (
    <Box maxW="1500px">
      <Text fontSize="sm" color="inkSoft">
        <Link to={library}>{t("soils.soils")}</Link>
      </Text>
      <Heading as="h1" size="2xl" fontWeight="700">
        {soil ? soil.name : t("soils.newSoil")}
      </Heading>
      <Text color="inkSoft" fontSize="sm" mb="3">
        {inUse
          ? t("soils.usedByTheDaysBeforeAChange", { blocks: soil?.blocks.join(", ") ?? "" })
          : t("soils.notUsedByAnyBlockYet")}
      </Text>
      <Grid templateColumns={{ base: "1fr", md: "1fr 1.6fr" }} gap="3" maxW="820px" mb="4">
        <Line label={t("soils.name")} value={name} change={setName} error={problems["name"]} />
        <Line label={t("soils.note")} value={note} change={setNote} error={problems["note"]} />
      </Grid>
      <Grid
        templateColumns={{
          base: "minmax(0, 1fr)",
          md: "230px minmax(0, 1fr)",
          xl: "250px minmax(0, 350px) minmax(0, 1fr)",
        }}
        columnGap="8"
        rowGap="6"
      >
        <Box>
          <ProfileDrawing
            horizons={typedHorizons}
            preview={preview.data}
            seen={seen}
            chosen={index}
            choose={setChosen}
            units={units}
            move={(i, mm) =>
              setHorizons(
                horizons.map((h, j) =>
                  j === i ? { ...h, bottom: forForm(mm, units, "depth") } : h,
                ),
              )
            }
          />
          <Text fontSize="xs" color="inkSoft" mt="1">
            {t("soils.acrossMOfWaterPerMOf")}
          </Text>
          {seen.length > 0 && <SeenOnBlocks seen={seen} />}
          <Flex gap="2" mt="2" wrap="wrap">
            <Button
              size="xs"
              variant="outline"
              disabled={horizons.length >= 12}
              onClick={() => {
                setHorizons([...horizons, { ...EMPTY_HORIZON }]);
                setChosen(horizons.length);
              }}
            >
              {t("soils.addBelow")}
            </Button>
            {horizons.length > 1 && (
              <Button
                size="xs"
                variant="ghost"
                onClick={() => {
                  setHorizons(horizons.filter((_, i) => i !== index));
                  setChosen(Math.max(index - 1, 0));
                }}
              >
                {t("soils.removeHorizon", { index: index + 1 })}
              </Button>
            )}
          </Flex>
        </Box>
        <Box as="section" aria-label={t("soils.horizon", { index: index + 1 })}>
          <Heading as="h2" size="lg" mb="2">
            {t("soils.horizon", { index: index + 1 })}
          </Heading>
          <HorizonFields
            horizon={horizon}
            index={index}
            errors={errorsOf(problems, index)}
            textures={textures.triangle}
            change={change}
            byHand={() => setByHand(true)}
          />
        </Box>
        <Box as="section" aria-label={t("soils.limitsOfTheHorizon")} minW="0">
          <Grid
            templateColumns={{ base: "minmax(0,1fr)", sm: "repeat(2, minmax(0, 1fr))" }}
            gap="5"
          >
            <Box maxW="330px">
              <Triangle
                triangle={textures.triangle}
                sand={fractions ? plain(horizon.sand) : (limits?.sand ?? null)}
                clay={fractions ? plain(horizon.clay) : (limits?.clay ?? null)}
                choose={pick}
              />
            </Box>
            <Box maxW="360px">
              {limits && preview.data && (
                <RetentionPlot
                  horizon={limits}
                  tensions={preview.data.tensions_kpa}
                  points={typedHorizons[index]?.points ?? []}
                />
              )}
            </Box>
          </Grid>
          {limits && (
            <Box mt="4" maxW="720px">
              <Methods
                horizon={limits}
                method={horizon.method}
                choose={(method) => change({ method })}
              />
              <Text fontSize="xs" color="inkSoft" mt="2">
                {t("soils.fullAtKpaIntakeRateAboutMm", {
                  texture: limits.texture,
                  fullTension: limits.full_tension_kpa,
                  intake: limits.intake_mm_h,
                })}
                {limits.clamped && ` ${t("soils.outsideTheSoilsOfTheRegressionTaken")}`}
              </Text>
            </Box>
          )}
          {preview.error && (
            <Box maxW="720px">
              <Notice error={preview.error} />
            </Box>
          )}
        </Box>
      </Grid>
      {editable ? (
        <Box mt="6" borderTopWidth="1px" borderColor="rule" pt="4" maxW="820px">
          {inUse && (
            <Grid templateColumns={{ base: "1fr", md: "220px 1fr" }} gap="3" mb="3">
              <DateLine
                label={t("soils.inForceFrom")}
                value={fromOn}
                change={setFromOn}
                help={t("soils.leaveEmptyIfItAlwaysWas")}
              />
              <Line label={t("soils.reason")} value={reason} change={setReason} />
            </Grid>
          )}
          {elsewhere && (
            <Text color="fg.error" fontSize="sm">
              {t("soils.horizonAlsoNeedsCorrecting", { index: elsewhere.index + 1 })}
            </Text>
          )}
          {save.error && <Notice error={save.error} />}
          <Flex gap="3" mt="3">
            <Button
              loading={save.isPending}
              onClick={() =>
                save.mutate(
                  {
                    name,
                    note,
                    horizons: typedHorizons,
                    from_on: fromOn || null,
                    reason,
                  },
                  { onSuccess: () => void navigate(library) },
                )
              }
            >
              {t("soils.saveSoil")}
            </Button>
            <Button asChild variant="ghost">
              <Link to={library}>{t("soils.cancel")}</Link>
            </Button>
          </Flex>
          <Text fontSize="xs" color="inkSoft" mt="3">
            {t("soils.beforeDiggingOrAugeringHaveBuried")}
          </Text>
        </Box>
      ) : (
        <Text mt="4" color="inkSoft">
          {t("soils.aCanViewButNotEditSoils", { role: farm.role })}
        </Text>
      )}
      {byHand && (
        <ByHand
          steps={textures.by_hand}
          close={() => setByHand(false)}
          take={(texture) => {
            change({ texture });
            setByHand(false);
          }}
        />
      )}
    </Box>
  );
}
