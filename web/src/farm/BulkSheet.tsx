import { Grid, SegmentGroup, Text } from "@chakra-ui/react";
import { useState } from "react";
import { Notice } from "../app/Notice";
import { SeasonFields, type SeasonForm } from "../crops/SeasonFields";
import { problemsOf } from "../form/problems";
import { FormSheet } from "../form/FormSheet";
import { EMPTY_REFILL, RefillFields, refillIn, type RefillForm } from "../limits/RefillFields";
import { useSignedIn } from "../session/context";
import { SoilFields, type SoilChange } from "../soils/SoilFields";
import { useBulk, type BlockLine, type BulkIn } from "./queries";
import { t } from "./t";

interface Props {
  blocks: BlockLine[];
  close: () => void;
  done: () => void;
}

const PARTS = [
  { value: "Crop", label: t("farm.crop") },
  { value: "Refill", label: t("farm.refill") },
  { value: "Soil", label: t("farm.soil") },
];

/** One change to all the blocks chosen: a crop and date, how refill is set, or a soil. */
export function BulkSheet({ blocks, close, done }: Props) {
  const { farm } = useSignedIn();
  const bulk = useBulk(farm.slug);
  const [part, setPart] = useState("Crop");
  const [season, setSeason] = useState<SeasonForm>({ crop: "", planted: "", clock: "days" });
  const [refill, setRefill] = useState<RefillForm>(EMPTY_REFILL);
  const [soil, setSoil] = useState<SoilChange>({ soil: "", from: "", reason: "" });
  const problems = problemsOf(bulk.error);

  function body(): BulkIn {
    const block_ids = blocks.map((b) => b.id);
    if (part === "Crop") {
      return {
        block_ids,
        crop_key: season.crop || null,
        planted_on: season.planted || null,
        clock: season.clock as NonNullable<BulkIn["clock"]>,
        reason: "",
      };
    }
    if (part === "Soil") {
      return {
        block_ids,
        clock: "days",
        soil_id: Number(soil.soil) || null,
        from_on: soil.from || null,
        reason: soil.reason,
      };
    }
    return { block_ids, clock: "days", ...refillIn(refill) };
  }

  const names = blocks.slice(0, 6).map((b) => b.name);
  return (
    <FormSheet
      title={t("farm.editBlocks")}
      close={close}
      save={() => bulk.mutate(body(), { onSuccess: done })}
      words={t("farm.save", { count: blocks.length })}
      pending={bulk.isPending}
      size="lg"
    >
      <Text fontSize="sm" color="inkSoft" mb="3">
        {names.join(", ")}
        {blocks.length > names.length &&
          ` ${t("farm.andMore", { count: blocks.length - names.length })}`}
        {t("farm.eitherAllOfThemAreChangedOr")}
      </Text>
      <SegmentGroup.Root size="sm" value={part} onValueChange={(e) => setPart(e.value ?? "Crop")}>
        <SegmentGroup.Indicator />
        <SegmentGroup.Items items={PARTS} />
      </SegmentGroup.Root>
      <Grid mt="4" gap="3">
        {part === "Crop" && <SeasonFields form={season} change={setSeason} problems={problems} />}
        {part === "Refill" && (
          <RefillFields
            form={refill}
            change={setRefill}
            problems={problems}
            own={(s) => (s === "flat" ? "half" : t("farm.eachCropsOwn"))}
          />
        )}
        {part === "Soil" && <SoilFields form={soil} change={setSoil} problems={problems} />}
      </Grid>
      {bulk.error && <Notice error={bulk.error} />}
    </FormSheet>
  );
}
