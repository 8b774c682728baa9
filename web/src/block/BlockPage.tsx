import { Box, Button, Flex, Grid, Heading, Text } from "@chakra-ui/react";
import { lazy, Suspense, useMemo, useState } from "react";
import { Link, useParams } from "react-router";
import { Loading } from "../app/Loading";
import { Notice } from "../app/Notice";
import { Deciding } from "../decide/Deciding";
import { useSignedIn } from "../session/context";
import { FarmTime } from "../time/farmTime";
import { withUnit } from "../units/format";
import { Answer } from "./Answer";
import { BalanceTable } from "./BalanceTable";
import { DayTable } from "./DayTable";
import { LayerTable } from "./LayerTable";
import { useBlock, type BlockData } from "./queries";
import { Working } from "./Working";
import { t } from "./t";
import { REGIMES } from "./regimes";

const WhatIf = lazy(() => import("../whatif/WhatIf"));
const HoldSheet = lazy(() =>
  import("../water/HoldSheet").then((found) => ({ default: found.HoldSheet })),
);

export function BlockPage() {
  const { block: id } = useParams();
  const { farm } = useSignedIn();
  const block = useBlock(farm.slug, Number(id));
  if (block.isPending) return <Loading what={t("block.loadingTheBlock")} />;
  if (block.error) return <Notice error={block.error} retry={() => void block.refetch()} />;
  return <Pit block={block.data} />;
}

function Pit({ block }: { block: BlockData }) {
  const { farm, units, may } = useSignedIn();
  const time = useMemo(() => new FarmTime(block.now, block.time_zone), [block]);
  const here = `/${farm.slug}/blocks/${block.id}`;
  const [trying, setTrying] = useState(false);
  const [holding, setHolding] = useState(false);
  const { Past, Facts, Rules, asksWhatIf } = REGIMES[block.answer.regime];
  return (
    <Box maxW="1500px">
      <Flex justify="space-between" align="start" gap="4" wrap="wrap">
        <Box flex="1 1 480px" minW="280px">
          <Text fontSize="sm" color="inkSoft">
            <Link to={`/${farm.slug}`}>{t("block.board")}</Link>
          </Text>
          <Flex align="baseline" gap="3" wrap="wrap">
            <Heading as="h1" size="2xl" fontWeight="700">
              {block.name}
            </Heading>
            <Text color="inkSoft">
              {[
                block.crop ?? t("block.noCrop"),
                block.answer.stage && t(`stage.${block.answer.stage}`),
                block.soil,
                t(`system.${block.system}`),
                withUnit(block.area_m2, units, "area", 1),
              ]
                .filter(Boolean)
                .join(" · ")}
            </Text>
          </Flex>
          <Answer block={block} time={time} />
          <Deciding block={block} time={time} />
        </Box>
        <Flex gap="2" wrap="wrap" maxW={{ md: "430px" }} justify={{ md: "flex-end" }}>
          {may("record_readings") && (
            <Button asChild size="sm">
              <Link to={`${here}/readings`}>{t("block.addReadings")}</Link>
            </Button>
          )}
          {asksWhatIf && (
            <Button
              size="sm"
              variant="outline"
              aria-expanded={trying}
              onClick={() => setTrying(!trying)}
            >
              {t("block.whatIf")}
            </Button>
          )}
          <Button asChild size="sm" variant="outline">
            <Link to={`${here}/history`}>{t("block.pastAdvice")}</Link>
          </Button>
          <Button asChild size="sm" variant="outline">
            <Link to={`${here}/limits`}>{t("block.limitsAndSeason")}</Link>
          </Button>
          <Button asChild size="sm" variant="outline">
            <Link to={`${here}/seasons`}>{t("block.compareSeasons")}</Link>
          </Button>
          {may("decide") && (
            <Button size="sm" variant="outline" onClick={() => setHolding(true)}>
              {t("block.holdIrrigation")}
            </Button>
          )}
          {may("set_up_ground") && (
            <Button asChild size="sm" variant="outline">
              <Link to={`${here}/setup`}>{t("block.editBlock")}</Link>
            </Button>
          )}
        </Flex>
      </Flex>
      <Suspense fallback={<Loading what={t("block.loadingWhatIf")} />}>
        {trying && <WhatIf block={block} time={time} />}
        {holding && <HoldSheet block={block} time={time} close={() => setHolding(false)} />}
      </Suspense>
      <Grid
        templateColumns={{ base: "minmax(0, 1fr)", lg: "minmax(0, 1fr) 350px" }}
        templateAreas={{
          base: `"past" "side" "tables"`,
          lg: `"past side" "tables side"`,
        }}
        templateRows={{ lg: "auto 1fr" }}
        columnGap="8"
        rowGap="4"
        mt="4"
      >
        <Box gridArea="past" minW="0">
          <Past block={block} time={time} />
        </Box>
        <Box gridArea="tables" minW="0">
          <LayerTable layers={block.layers} time={time} />
          <DayTable days={block.days} time={time} />
          <BalanceTable block={block} time={time} />
        </Box>
        <Box gridArea="side" minW="0">
          <Suspense fallback={null}>
            <Facts block={block} time={time} />
          </Suspense>
          <Working steps={block.steps} />
          <Rules block={block} time={time} />
        </Box>
      </Grid>
    </Box>
  );
}
