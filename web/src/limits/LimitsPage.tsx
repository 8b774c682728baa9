import { Box, Button, Flex, Grid, Heading, Text } from "@chakra-ui/react";
import { useState } from "react";
import { Link, useParams } from "react-router";
import { LinkButton } from "../app/LinkButton";
import { Loading } from "../app/Loading";
import { Notice } from "../app/Notice";
import { useWidth } from "../draw/useWidth";
import { useSignedIn } from "../session/context";
import { figure, measure, number, withUnit } from "../units/format";
import { ApplicationSeen } from "./ApplicationSeen";
import { ChangeLimits } from "./ChangeLimits";
import { Changes } from "./Changes";
import { FieldShown } from "./FieldShown";
import { FullPointsSeen } from "./FullPointsSeen";
import { LayerLimits } from "./LayerLimits";
import { SimilarBlocks } from "./SimilarBlocks";
import { useLimits } from "./queries";
import { RefillSeen } from "./RefillSeen";
import { UseSeen } from "./UseSeen";
import { RefillMethodTable } from "./RefillMethodTable";
import { SeasonCurve } from "./SeasonCurve";
import { SeasonPanel } from "./SeasonPanel";
import { shownDay } from "../time/enteredDate";
import { t } from "./t";

/** A block's limits on a day: by layer, by three methods, through its season, and their record. */
export function LimitsPage() {
  const { block: param } = useParams();
  const { farm, units, may } = useSignedIn();
  const id = Number(param);
  const [on, setOn] = useState("");
  const [changing, setChanging] = useState(false);
  const [ref, width] = useWidth();
  const found = useLimits(farm.slug, id, on);
  if (found.isPending) return <Loading what={t("limits.loadingTheLimits")} />;
  if (found.error) return <Notice error={found.error} retry={() => void found.refetch()} />;
  const limits = found.data;
  return (
    <Box maxW="1400px">
      <Text fontSize="sm" color="inkSoft">
        <Link to={`/${farm.slug}/blocks/${id}`}>← {limits.name}</Link>
      </Text>
      <Flex justify="space-between" align="start" gap="3" wrap="wrap">
        <Box>
          <Heading as="h1" size="2xl" fontWeight="700">
            {t("limits.limitsOf", { name: limits.name })}
          </Heading>
          <Text color="inkSoft" fontSize="sm">
            {[
              limits.crop,
              limits.stage && t(`stage.${limits.stage}`),
              limits.soil,
              limits.root_mm !== null &&
                t("limits.roots2", {
                  root: figure(limits.root_mm, units, "depth"),
                  label: measure(units, "depth").label,
                }),
              limits.kc !== null &&
                t("limits.kcEt", {
                  kc: number(limits.kc, 2),
                  et0: figure(limits.et0_mm_day, units, "waterDay"),
                  etc: withUnit(limits.etc_mm_day, units, "waterDay"),
                }),
            ]
              .filter(Boolean)
              .join(" · ")}
          </Text>
        </Box>
        <Flex gap="2">
          <Button asChild size="sm" variant="outline">
            <Link to={`/${farm.slug}/farm/soils/${limits.soil_id}`}>{t("limits.openSoil")}</Link>
          </Button>
          {may("set_up_ground") && (
            <Button size="sm" onClick={() => setChanging(true)}>
              {t("limits.changeLimits")}
            </Button>
          )}
        </Flex>
      </Flex>
      {limits.wetted_share < 1 && (
        <Text fontSize="sm" mt="1">
          {t("limits.ofTheGroundIsWettedDepthsOf", {
            wettedShare: number(limits.wetted_share * 100, 0),
            wettedSource:
              limits.wetted_source === "design"
                ? t("limits.byTheDesignOfTheSystem")
                : t("limits.assumedTheDesignOfTheSystemCan", {
                    wettedSource: limits.wetted_source,
                  }),
          })}
        </Text>
      )}
      {limits.why_not && (
        <Text mt="3" fontWeight="600">
          {limits.why_not}
        </Text>
      )}
      {limits.on !== limits.today && (
        <Text mt="2" fontSize="sm">
          {t("limits.shownAsTheyWereInForceOn")} <b>{shownDay(limits.on)}</b>.{" "}
          <LinkButton onClick={() => setOn("")}>{t("limits.backToToday")}</LinkButton>
        </Text>
      )}
      <Box ref={ref} mt="4">
        {width > 0 && <SeasonCurve limits={limits} width={width} units={units} choose={setOn} />}
      </Box>
      <Grid
        templateColumns={{ base: "minmax(0, 1fr)", lg: "minmax(0, 1.5fr) minmax(0, 1fr)" }}
        columnGap="10"
        rowGap="6"
        mt="5"
      >
        <Box>
          <FieldShown block={id} />
          <FullPointsSeen block={id} name={limits.name} today={limits.today} />
          <RefillSeen block={id} name={limits.name} stage={limits.stage} today={limits.today} />
          <UseSeen block={id} name={limits.name} />
          <SimilarBlocks block={id} name={limits.name} />
          <ApplicationSeen block={id} name={limits.name} />
          {limits.refill_methods.length > 0 && <RefillMethodTable limits={limits} />}
          {limits.layers.length > 0 && <LayerLimits limits={limits} />}
        </Box>
        <Box>
          <SeasonPanel block={id} today={limits.today} />
          <Changes limits={limits} />
        </Box>
      </Grid>
      {changing && <ChangeLimits limits={limits} close={() => setChanging(false)} />}
    </Box>
  );
}
