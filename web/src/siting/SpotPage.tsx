import { Box, Button, Flex, Grid, Heading, Text } from "@chakra-ui/react";
import { useState } from "react";
import { Link, useParams } from "react-router";
import { FactRows } from "../app/FactRows";
import { Loading } from "../app/Loading";
import { Notice } from "../app/Notice";
import { useWidth } from "../draw/useWidth";
import { Choice } from "../form/Labelled";
import { useKinds } from "../instruments/queries";
import { useSignedIn } from "../session/context";
import { shownDay } from "../time/enteredDate";
import { InstallForm } from "./InstallForm";
import { useSiting, useSpotRecord, useSpotSheet, type SpotRecord, type SpotSheet } from "./queries";
import { SitingPlan } from "./SitingPlan";
import { SpotChecks } from "./SpotChecks";
import { SpotCore } from "./SpotCore";
import { SpotStanding } from "./SpotStanding";
import { t } from "./t";
import { viewsOf } from "./views";
import { PURPOSES } from "./words";

/** A chosen spot for the field: where it is, what to do there, and what was put in. */
export function SpotPage() {
  const { farm } = useSignedIn();
  const id = Number(useParams().spot);
  const [kind, setKind] = useState<SpotSheet["kind"]>("capacitance_probe");
  const found = useSpotSheet(farm.slug, id, kind);
  if (found.error) return <Notice error={found.error} retry={() => void found.refetch()} />;
  if (!found.data) return <Loading what={t("siting.loadingSpot")} />;
  return <Spot sheet={found.data} setKind={setKind} />;
}

interface Props {
  sheet: SpotSheet;
  setKind: (kind: SpotSheet["kind"]) => void;
}

function Spot({ sheet, setKind }: Props) {
  const { farm, may } = useSignedIn();
  const kinds = useKinds();
  const { spot } = sheet;
  const record = useSpotRecord(farm.slug, spot.id);
  const [lon, lat] = spot.position;
  const where = new URLSearchParams({
    longitude: String(lon),
    latitude: String(lat),
    name: `${sheet.block}, ${spot.name}`,
  });
  return (
    <Box maxW="1100px">
      <Text fontSize="sm" color="inkSoft" className="not-printed">
        <Link to={`/${farm.slug}/blocks/${sheet.block_id}/siting`}>
          {t("siting.whereToPutTheProbe", { block: sheet.block })}
        </Link>
      </Text>
      <Heading as="h1" size="2xl" fontWeight="700" mb="3">
        {sheet.block}, {spot.name}
      </Heading>
      <Grid templateColumns={{ base: "minmax(0, 1fr)", md: "minmax(0, 1fr) 1fr" }} gap="7">
        <Box minW="0">
          <Plan sheet={sheet} />
          <FactRows
            rows={[
              [t("siting.position"), `${lat.toFixed(6)}, ${lon.toFixed(6)}`],
              [t("siting.purpose"), PURPOSES[spot.purpose]],
              [t("siting.score"), spot.score === null ? "–" : String(Math.round(spot.score))],
              [t("siting.why"), spot.why],
            ]}
          />
          <Flex gap="3" mt="4" wrap="wrap" className="not-printed">
            <Button asChild size="sm">
              <Link to={`/${farm.slug}/find-spot?${where.toString()}`}>{t("siting.findIt")}</Link>
            </Button>
            <Button size="sm" variant="outline" onClick={() => window.print()}>
              {t("siting.print")}
            </Button>
          </Flex>
        </Box>
        <Box minW="0">
          <Box className="not-printed">
            <Choice
              label={t("siting.kindOfInstrument")}
              value={sheet.kind}
              change={(k) => setKind(k as SpotSheet["kind"])}
            >
              {(kinds.data ?? [])
                .filter((k) => k.in_soil)
                .map((k) => (
                  <option key={k.kind} value={k.kind}>
                    {k.name}
                  </option>
                ))}
            </Choice>
          </Box>
          <Heading as="h2" size="md" mt="4">
            {t("siting.installList", { kind: sheet.kind_name })}
          </Heading>
          <Box as="ol" ps="5" mt="1" listStyleType="decimal">
            <li>{t("siting.coreFirst")}</li>
            {sheet.steps.map((step) => (
              <li key={step}>{step}</li>
            ))}
          </Box>
          {sheet.proof && (
            <Text mt="2">
              <b>{t("siting.proofReading")}</b> {sheet.proof}
            </Text>
          )}
          {sheet.cautions.map((caution) => (
            <Text key={caution} mt="2" color="rust">
              {caution}
            </Text>
          ))}
          {spot.instrument === null ? (
            may("set_up_ground") && <InstallForm key={sheet.kind} sheet={sheet} />
          ) : (
            <Text mt="4">
              <Link to={`/${farm.slug}/instruments/${spot.instrument}`}>
                {t("siting.instrumentStandsHere")}
              </Link>
            </Text>
          )}
          {record.data && <Settling record={record.data} />}
        </Box>
      </Grid>
      <Box className="not-printed">
        {record.error && <Notice error={record.error} />}
        {record.data && (
          <>
            <SpotCore sheet={sheet} record={record.data} />
            {spot.instrument !== null && <SpotChecks spot={spot.id} record={record.data} />}
            {(spot.instrument !== null || record.data.decisions.length > 0) && (
              <SpotStanding sheet={sheet} record={record.data} />
            )}
          </>
        )}
      </Box>
    </Box>
  );
}

/** When the probe was put in, and when its readings can be relied on. */
function Settling({ record }: { record: SpotRecord }) {
  if (record.installed_at === null || record.settled_at === null) return null;
  const until = shownDay(record.settled_at.slice(0, 10));
  return (
    <Text mt="1">
      {t("siting.installedOn", { day: shownDay(record.installed_at.slice(0, 10)) })}{" "}
      {record.status === "settling"
        ? t("siting.settlesUntil", { day: until })
        : t("siting.settledSince", { day: until })}
    </Text>
  );
}

function Plan({ sheet }: { sheet: SpotSheet }) {
  const { farm } = useSignedIn();
  const siting = useSiting(farm.slug, sheet.block_id);
  const [ref, width] = useWidth();
  const shown = siting.data && viewsOf(siting.data).find((v) => v.of === "zones");
  const only = siting.data && {
    ...siting.data,
    spots: [],
    chosen: siting.data.chosen.filter((s) => s.id === sheet.spot.id),
  };
  return (
    <Box ref={ref} mb="3">
      {only && width > 0 && (
        <SitingPlan
          siting={only}
          shown={shown ?? { data: null, classes: null }}
          width={Math.min(width, 460)}
          flag={null}
          moveFlag={() => undefined}
        />
      )}
    </Box>
  );
}
