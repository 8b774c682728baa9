import { Box, Button, Flex, Grid, Text } from "@chakra-ui/react";
import { LinkButton } from "../app/LinkButton";
import { Choice, Line } from "../form/Labelled";
import { Tick } from "../form/Tick";
import { useSignedIn } from "../session/context";
import { measure } from "../units/format";
import { BY_FRACTIONS, type HorizonForm } from "./horizonForm";
import { CURVE_NAMES } from "./RetentionPlot";
import type { Textures } from "./queries";
import { t } from "./t";

interface Props {
  horizon: HorizonForm;
  index: number;
  errors: Partial<Record<keyof HorizonForm, string>>;
  textures: Textures["triangle"];
  change: (changes: Partial<HorizonForm>) => void;
  byHand: () => void;
}

const FRACTIONS = [
  { name: "sand", label: t("soils.sandShare") },
  { name: "silt", label: t("soils.siltShare") },
  { name: "clay", label: t("soils.clayShare") },
] as const;

/** What a person says of one horizon. */
export function HorizonFields({ horizon, index, errors, textures, change, byHand }: Props) {
  const { units } = useSignedIn();
  const names = [...new Set(textures.map((one) => one.texture))];
  const byFractions = horizon.texture === BY_FRACTIONS;
  return (
    <Box>
      <Grid templateColumns="repeat(2, minmax(0, 1fr))" gap="3">
        <Line
          label={t("soils.downTo")}
          unit={measure(units, "depth").label}
          numeric
          value={horizon.bottom}
          error={errors.bottom}
          change={(bottom) => change({ bottom })}
        />
        <Choice
          label={t("soils.texture")}
          value={horizon.texture}
          error={errors.texture}
          change={(texture) => change({ texture })}
        >
          <option value={BY_FRACTIONS}>{t("soils.byPercentages")}</option>
          {names.map((one) => (
            <option key={one} value={one}>
              {t(`texture.${one}`)}
            </option>
          ))}
        </Choice>
      </Grid>
      <Text fontSize="xs" color="inkSoft" mt="1">
        {t("soils.typeTheLaboratorysPercentagesClick")}{" "}
        <LinkButton fontSize="xs" onClick={byHand}>
          {t("soils.findTheClassByHand")}
        </LinkButton>
        .
      </Text>
      {byFractions && (
        <Grid templateColumns="repeat(3, minmax(0, 1fr))" gap="3" mt="2">
          {FRACTIONS.map(({ name, label }) => (
            <Line
              key={name}
              label={label}
              unit="%"
              numeric
              value={horizon[name]}
              error={errors[name]}
              change={(v) => change({ [name]: v })}
            />
          ))}
        </Grid>
      )}
      <Grid templateColumns="repeat(2, minmax(0, 1fr))" gap="3" mt="3">
        <Line
          label={t("soils.organicMatter")}
          unit="%"
          numeric
          value={horizon.organic}
          error={errors.organic}
          change={(organic) => change({ organic })}
        />
        <Line
          label={t("soils.gravelByVolume")}
          unit="%"
          numeric
          value={horizon.gravel}
          error={errors.gravel}
          change={(gravel) => change({ gravel })}
        />
        <Line
          label={t("soils.bulkDensity")}
          unit="g/cm³"
          numeric
          placeholder={t("soils.notMeasured")}
          value={horizon.density}
          error={errors.density}
          change={(density) => change({ density })}
        />
        <Line
          label={t("soils.salinityEce")}
          unit="dS/m"
          numeric
          placeholder={t("soils.notMeasured")}
          value={horizon.ece}
          error={errors.ece}
          change={(ece) => change({ ece })}
        />
      </Grid>
      <Flex mt="3" gap="4" align="center" wrap="wrap">
        <Tick
          label={t("soils.rootsStopAtItsTopPanRock")}
          on={horizon.stopsRoots}
          invalid={Boolean(errors.stopsRoots)}
          change={(stopsRoots) => change({ stopsRoots })}
        />
      </Flex>
      {errors.stopsRoots && (
        <Text color="fg.error" fontSize="xs">
          {errors.stopsRoots}
        </Text>
      )}
      <Box mt="3">
        <Line label={t("soils.note")} value={horizon.note} change={(note) => change({ note })} />
      </Box>
      <Text fontWeight="600" fontSize="sm" mt="4">
        {t("soils.measuredPointsOfTheFineEarth")}
      </Text>
      <Grid templateColumns="repeat(3, minmax(0, 1fr))" gap="2" mt="1">
        {horizon.points.map((p, i) => (
          <Line
            key={`${index}-${i}`}
            label={t("soils.atKpa", { tension: p.tension || "?" })}
            unit="m³/m³"
            numeric
            value={p.theta}
            change={(theta) =>
              change({ points: horizon.points.map((q, j) => (j === i ? { ...q, theta } : q)) })
            }
          />
        ))}
      </Grid>
      {errors.points && (
        <Text color="fg.error" fontSize="xs" mt="1">
          {errors.points}
        </Text>
      )}
      <AddPoint horizon={horizon} change={change} />
      <Grid templateColumns="repeat(2, minmax(0, 1fr))" gap="3" mt="3">
        <Choice
          label={t("soils.fullPointAt")}
          value={horizon.fullTension}
          error={errors.fullTension}
          change={(fullTension) => change({ fullTension })}
        >
          <option value="">{t("soils.fromTheTexture")}</option>
          <option value="10">{t("soils.n10Kpa")}</option>
          <option value="33">{t("soils.n33Kpa")}</option>
        </Choice>
        <Choice
          label={t("soils.retentionCurve")}
          value={horizon.curve}
          error={errors.curve}
          change={(curve) => change({ curve })}
        >
          <option value="">{t("soils.theMethodsOwnCurve")}</option>
          {Object.entries(CURVE_NAMES).map(([key, name]) => (
            <option key={key} value={key}>
              {name}
            </option>
          ))}
        </Choice>
      </Grid>
      {horizon.method === "learned" && (
        <Grid templateColumns="repeat(2, minmax(0, 1fr))" gap="3" mt="3">
          <Line
            label={t("soils.fullFromTheField")}
            unit="m³/m³"
            numeric
            value={horizon.full}
            error={errors.full}
            change={(full) => change({ full })}
          />
          <Line
            label={t("soils.wiltingFromTheField")}
            unit="m³/m³"
            numeric
            value={horizon.wilt}
            error={errors.wilt}
            change={(wilt) => change({ wilt })}
          />
        </Grid>
      )}
    </Box>
  );
}

function AddPoint({ horizon, change }: Pick<Props, "horizon" | "change">) {
  const free = ["1", "3", "5", "60", "100", "300", "500"].filter(
    (one) => !horizon.points.some((p) => p.tension === one),
  );
  if (horizon.points.length >= 9 || free.length === 0) return null;
  return (
    <Flex gap="2" mt="2" align="center" wrap="wrap">
      <Text fontSize="xs" color="inkSoft">
        {t("soils.addAPointAt")}
      </Text>
      {free.map((tension) => (
        <Button
          key={tension}
          size="2xs"
          variant="outline"
          onClick={() =>
            change({
              points: [...horizon.points, { tension, theta: "" }].toSorted(
                (a, b) => Number(a.tension) - Number(b.tension),
              ),
            })
          }
        >
          {tension}
        </Button>
      ))}
      <Text fontSize="xs" color="inkSoft">
        {t("soils.kpa")}
      </Text>
    </Flex>
  );
}
