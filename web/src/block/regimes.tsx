import { Box } from "@chakra-ui/react";
import { lazy, Suspense, type ComponentType } from "react";
import { Loading } from "../app/Loading";
import { useLeaf } from "../leaf/queries";
import { useSignedIn } from "../session/context";
import { FarmTime } from "../time/farmTime";
import { Deficits } from "./Deficits";
import { Limits } from "./Limits";
import type { BlockData } from "./queries";
import { RefillMethods } from "./RefillMethods";
import { t } from "./t";
import { SoilPast } from "./SoilPast";

const LastIrrigation = lazy(() =>
  import("../finish/LastIrrigation").then((found) => ({ default: found.LastIrrigation })),
);
const FieldWater = lazy(() =>
  import("../rice/FieldWater").then((found) => ({ default: found.FieldWater })),
);
const SeasonWater = lazy(() =>
  import("../rice/SeasonWater").then((found) => ({ default: found.SeasonWater })),
);
const SameSupply = lazy(() =>
  import("../rice/SameSupply").then((found) => ({ default: found.SameSupply })),
);
const FieldFacts = lazy(() =>
  import("../rice/FieldFacts").then((found) => ({ default: found.FieldFacts })),
);
const NotDescribed = lazy(() =>
  import("../rice/NotDescribed").then((found) => ({ default: found.NotDescribed })),
);
const LeafChart = lazy(() =>
  import("../leaf/LeafChart").then((found) => ({ default: found.LeafChart })),
);
const LeafFacts = lazy(() =>
  import("../leaf/LeafFacts").then((found) => ({ default: found.LeafFacts })),
);
const Rounds = lazy(() => import("../leaf/Rounds").then((found) => ({ default: found.Rounds })));
const DeficitFacts = lazy(() =>
  import("../deficit/DeficitFacts").then((found) => ({ default: found.DeficitFacts })),
);
const CutFacts = lazy(() =>
  import("../cuts/CutFacts").then((found) => ({ default: found.CutFacts })),
);
const YieldAtRisk = lazy(() =>
  import("../risk/YieldAtRisk").then((found) => ({ default: found.YieldAtRisk })),
);
const OtherRules = lazy(() =>
  import("./OtherRules").then((found) => ({ default: found.OtherRules })),
);

interface Parts {
  block: BlockData;
  time: FarmTime;
}

/** What a block's page shows of its store, beside it, and of the rules for it, by its regime. */
export const REGIMES: Record<
  BlockData["answer"]["regime"],
  Record<"Past" | "Facts" | "Rules", ComponentType<Parts>> & {
    /** Whether other assumptions of the soil can be tried. */
    asksWhatIf: boolean;
  }
> = {
  above_refill: { Past: SoilPast, Facts: SoilFacts, Rules: SoilRules, asksWhatIf: true },
  leaf_guided: { Past: LeafPast, Facts: LeafSide, Rules: BandRules, asksWhatIf: true },
  deficit: { Past: SoilPast, Facts: DeficitSide, Rules: BandRules, asksWhatIf: true },
  cut_or_grazed: { Past: SoilPast, Facts: CutSide, Rules: SoilRules, asksWhatIf: true },
  ponded: { Past: FieldPast, Facts: RiceFacts, Rules: () => null, asksWhatIf: false },
};

function SoilRules({ block, time }: Parts) {
  return (
    <>
      <RefillMethods methods={block.refill_methods} time={time} />
      <Limits block={block} />
      <Suspense fallback={null}>
        <OtherRules block={block} />
      </Suspense>
    </>
  );
}

function BandRules({ block }: Parts) {
  return (
    <>
      <Limits block={block} />
      <Suspense fallback={null}>
        <OtherRules block={block} />
      </Suspense>
    </>
  );
}

function SoilFacts({ block, time }: Parts) {
  return (
    <>
      <Deficits estimates={block.estimates} limits={block.limits} time={time} />
      {block.answer.at_risk && <YieldAtRisk block={block} risk={block.answer.at_risk} />}
      {block.crop && <LastIrrigation block={block.id} />}
      {block.system === "rice paddy" && <NotDescribed block={block} />}
    </>
  );
}

function LeafPast({ block, time }: Parts) {
  const { farm } = useSignedIn();
  const leaf = useLeaf(farm.slug, block.id, block.answer.leaf?.round_on);
  const said = block.answer.leaf ?? null;
  return (
    <Suspense fallback={<Loading what={t("block.loadingTheChart")} />}>
      {said && block.leaves.length > 0 && (
        <LeafChart
          points={block.leaves}
          said={said}
          rounds={leaf.data?.rounds ?? []}
          sets={block.sets}
          time={time}
        />
      )}
      <Rounds block={block} said={said} time={time} />
      <Box mt="6">
        <SoilPast block={block} time={time} />
      </Box>
    </Suspense>
  );
}

function LeafSide({ block, time }: Parts) {
  return (
    <>
      <LeafFacts block={block} said={block.answer.leaf ?? null} />
      <SoilFacts block={block} time={time} />
    </>
  );
}

function DeficitSide({ block, time }: Parts) {
  return (
    <>
      <DeficitFacts block={block} said={block.answer.deficit ?? null} />
      <SoilFacts block={block} time={time} />
    </>
  );
}

function CutSide({ block, time }: Parts) {
  return (
    <>
      <CutFacts block={block} said={block.answer.cutting ?? null} />
      <SoilFacts block={block} time={time} />
    </>
  );
}

function FieldPast({ block, time }: Parts) {
  const ponded = block.answer.ponded;
  return (
    <Suspense fallback={<Loading what={t("block.loadingTheChart")} />}>
      {ponded && <FieldWater levels={block.levels} ponded={ponded} sets={block.sets} time={time} />}
      {ponded && <SeasonWater block={block.id} />}
      {ponded && <SameSupply block={block.id} time={time} />}
    </Suspense>
  );
}

function RiceFacts({ block }: Parts) {
  const ponded = block.answer.ponded;
  return <Box mb="6">{ponded && <FieldFacts block={block} ponded={ponded} />}</Box>;
}
