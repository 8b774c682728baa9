import { Box, Button, Flex, Grid, Heading, Text } from "@chakra-ui/react";
import { useState } from "react";
import { Link, useParams } from "react-router";
import { Loading } from "../app/Loading";
import { Notice } from "../app/Notice";
import { useBlockList } from "../farm/queries";
import { useWidth } from "../draw/useWidth";
import { Choice } from "../form/Labelled";
import { useSettled } from "../form/useSettled";
import { useSignedIn } from "../session/context";
import type { Ring } from "./AreaDraft";
import { ChooseSheet } from "./ChooseSheet";
import { ChosenSpots } from "./ChosenSpots";
import { DistanceSheet } from "./DistanceSheet";
import { LayerTable } from "./LayerTable";
import { PlanLegend } from "./PlanLegend";
import { useChangeSiting, useSiting, useSpot, type Purpose, type Siting } from "./queries";
import { SitingPlan } from "./SitingPlan";
import { SoilZones } from "./SoilZones";
import { SpotDetail } from "./SpotDetail";
import { SpotTable } from "./SpotTable";
import { t } from "./t";
import { viewsOf } from "./views";
import { PURPOSES } from "./words";
import { ZoneDraft } from "./ZoneDraft";
import { ZoneTable } from "./ZoneTable";

/** A block's layers, zones and spots: from maps to a flag. */
export function SitingPage() {
  const { farm } = useSignedIn();
  const block = Number(useParams().block);
  const found = useSiting(farm.slug, block);
  const blocks = useBlockList(farm.slug);
  const name = blocks.data?.find((b) => b.id === block)?.name ?? "";
  return (
    <Box maxW="1500px">
      <Text fontSize="sm" color="inkSoft">
        <Link to={`/${farm.slug}/farm/siting`}>{t("siting.siting")}</Link>
      </Text>
      <Heading as="h1" size="2xl" fontWeight="700" mb="3">
        {t("siting.whereToPutTheProbe", { block: name })}
      </Heading>
      <Text mb="3">
        <Link to={`/${farm.slug}/blocks/${block}/instrument-choice`}>{t("siting.chooseKind")}</Link>
      </Text>
      {found.error ? (
        <Notice error={found.error} retry={() => void found.refetch()} />
      ) : found.isPending ? (
        <Loading what={t("siting.loadingLayers")} />
      ) : (
        <Found key={block} siting={found.data} block={block} />
      )}
    </Box>
  );
}

function Found({ siting, block }: { siting: Siting; block: number }) {
  const { farm, may } = useSignedIn();
  const [ref, width] = useWidth();
  const [view, setView] = useState("");
  const [flag, setFlag] = useState<[number, number] | null>(siting.spots[0]?.position ?? null);
  const [open, setOpen] = useState<"choose" | "distances" | null>(null);
  const [draft, setDraft] = useState<Ring | null>(null);
  const change = useChangeSiting(farm.slug, block);
  const drawn = useChangeSiting(farm.slug, block);
  const still = useSettled(flag, 120);
  const spot = useSpot(farm.slug, block, still, siting.settings);
  const views = viewsOf(siting);
  const zones = views.find((v) => v.of === "zones");
  const shown = (draft && zones) ?? views.find((v) => v.key === view) ?? views[0];
  const editable = may("set_up_ground");
  if (siting.layers.length === 0 && siting.soils.length === 0)
    return (
      <Text maxW="60ch" mt="4">
        {t("siting.noLayersYet")}{" "}
        <Link to={`/${farm.slug}/farm/siting`}>{t("siting.importALayer")}</Link>
      </Text>
    );
  return (
    <Grid
      templateColumns={{ base: "minmax(0, 1fr)", lg: "minmax(0, 1fr) 490px" }}
      templateAreas={{
        base: `"plan" "spots" "layers" "zones"`,
        lg: `"plan spots" "layers spots" "zones zones"`,
      }}
      gridTemplateRows={{ lg: "auto 1fr auto" }}
      columnGap="7"
    >
      <Box gridArea="plan" minW="0">
        <Box ref={ref}>
          {shown && (
            <Flex gap="4" align="end" wrap="wrap" mb="2">
              <Box w="260px">
                <Choice label={t("siting.shownOnThePlan")} value={shown.key} change={setView}>
                  {views.map((v) => (
                    <option key={v.key} value={v.key}>
                      {v.label}
                    </option>
                  ))}
                </Choice>
              </Box>
              <PlanLegend view={shown} siting={siting} />
            </Flex>
          )}
          {width > 0 && shown && (
            <SitingPlan
              siting={siting}
              shown={shown}
              width={width}
              flag={flag}
              moveFlag={setFlag}
              draft={draft}
              addCorner={(at) => setDraft([...(draft ?? []), at])}
            />
          )}
          {draft ? (
            <ZoneDraft
              siting={siting}
              ring={draft}
              setRing={setDraft}
              change={(settings) => drawn.mutate(settings, { onSuccess: () => setDraft(null) })}
              pending={drawn.isPending}
              error={drawn.error}
            />
          ) : (
            <Text fontSize="sm" color="inkSoft" mt="1">
              {t("siting.planHint")}
            </Text>
          )}
        </Box>
      </Box>
      <Box gridArea="layers" minW="0">
        <LayerTable siting={siting} block={block} />
      </Box>
      <Box gridArea="zones" minW="0">
        <ZoneTable siting={siting} block={block} draw={() => setDraft([])} />
        <SoilZones siting={siting} />
      </Box>
      <Box gridArea="spots" minW="0">
        <Choice
          label={t("siting.purpose")}
          value={siting.settings.purpose}
          disabled={!editable || change.isPending}
          change={(purpose) =>
            change.mutate(
              { ...siting.settings, purpose: purpose as Purpose, zone: null },
              { onSuccess: (after) => setFlag(after.spots[0]?.position ?? null) },
            )
          }
          help={t("siting.purposeHelp")}
        >
          {Object.entries(PURPOSES).map(([purpose, words]) => (
            <option key={purpose} value={purpose}>
              {words}
            </option>
          ))}
        </Choice>
        {change.isPending && (
          <Text fontSize="sm" color="inkSoft" role="status">
            {t("siting.lookingForSpots")}
          </Text>
        )}
        {change.error && <Notice error={change.error} />}
        <SpotTable siting={siting} flag={flag} choose={setFlag} />
        {spot.error && <Notice error={spot.error} />}
        {spot.data && <SpotDetail spot={spot.data} siting={siting} />}
        {editable && (
          <Flex gap="3" mt="4" wrap="wrap">
            <Button size="sm" disabled={!flag} onClick={() => setOpen("choose")}>
              {t("siting.chooseThisSpot")}
            </Button>
            <Button size="sm" variant="outline" onClick={() => setOpen("distances")}>
              {t("siting.changeDistances")}
            </Button>
          </Flex>
        )}
        <ChosenSpots spots={siting.chosen} choose={setFlag} />
      </Box>
      {open === "choose" && flag && (
        <ChooseSheet block={block} at={flag} siting={siting} close={() => setOpen(null)} />
      )}
      {open === "distances" && (
        <DistanceSheet siting={siting} block={block} close={() => setOpen(null)} />
      )}
    </Grid>
  );
}
