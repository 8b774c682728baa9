import { Button, Grid, SegmentGroup, Text } from "@chakra-ui/react";
import { useState } from "react";
import { Notice } from "../app/Notice";
import { Sheet } from "../app/Sheet";
import { CropChoice } from "../crops/CropChoice";
import { Choice, Line } from "../form/Labelled";
import { problemsOf } from "../form/problems";
import { EMPTY_REFILL, RefillFields, refillIn, type RefillForm } from "../limits/RefillFields";
import { useSignedIn } from "../session/context";
import { useSoils } from "../soils/queries";
import { useBulk, type BlockLine, type BulkIn } from "./queries";

interface Props {
  blocks: BlockLine[];
  close: () => void;
  done: () => void;
}

const PARTS = ["Crop", "Refill", "Soil"];

/** One change to all the blocks chosen: a crop and date, how refill is set, or a soil. */
export function BulkSheet({ blocks, close, done }: Props) {
  const { farm } = useSignedIn();
  const bulk = useBulk(farm.slug);
  const soils = useSoils(farm.slug);
  const [part, setPart] = useState("Crop");
  const [crop, setCrop] = useState("");
  const [planted, setPlanted] = useState("");
  const [clock, setClock] = useState("days");
  const [refill, setRefill] = useState<RefillForm>(EMPTY_REFILL);
  const [soil, setSoil] = useState("");
  const [soilFrom, setSoilFrom] = useState("");
  const problems = problemsOf(bulk.error);

  function body(): BulkIn {
    const block_ids = blocks.map((b) => b.id);
    if (part === "Crop") {
      return {
        block_ids,
        crop_key: crop || null,
        planted_on: planted || null,
        clock: clock as NonNullable<BulkIn["clock"]>,
        reason: "",
      };
    }
    if (part === "Soil") {
      return {
        block_ids,
        clock: "days",
        soil_id: Number(soil) || null,
        from_on: soilFrom || null,
        reason: "",
      };
    }
    return { block_ids, clock: "days", ...refillIn(refill) };
  }

  const footer = (
    <>
      <Button variant="ghost" size="sm" onClick={close}>
        Cancel
      </Button>
      <Button
        size="sm"
        loading={bulk.isPending}
        onClick={() => bulk.mutate(body(), { onSuccess: done })}
      >
        Change {blocks.length} {blocks.length === 1 ? "block" : "blocks"}
      </Button>
    </>
  );
  const names = blocks.slice(0, 6).map((b) => b.name);
  return (
    <Sheet title="Change many" close={close} footer={footer} size="lg">
      <Text fontSize="sm" color="inkSoft" mb="3">
        {names.join(", ")}
        {blocks.length > names.length && ` and ${blocks.length - names.length} more`}. All of them
        are changed, or none.
      </Text>
      <SegmentGroup.Root size="sm" value={part} onValueChange={(e) => setPart(e.value ?? "Crop")}>
        <SegmentGroup.Indicator />
        <SegmentGroup.Items items={PARTS} />
      </SegmentGroup.Root>
      <Grid mt="4" gap="3">
        {part === "Crop" && (
          <Grid templateColumns={{ base: "1fr", sm: "1fr 1fr" }} gap="3">
            <CropChoice value={crop} change={setCrop} error={problems["crop_key"]} />
            <Line
              label="Planted, or bud break"
              type="date"
              value={planted}
              change={setPlanted}
              error={problems["planted_on"]}
            />
            <Choice label="Timed by" value={clock} change={setClock} error={problems["clock"]}>
              <option value="days">days</option>
              <option value="degree-days">degree-days</option>
            </Choice>
          </Grid>
        )}
        {part === "Refill" && (
          <RefillFields
            form={refill}
            change={setRefill}
            problems={problems}
            own={(s) => (s === "flat" ? "half" : "each crop's own")}
          />
        )}
        {part === "Soil" && (
          <Grid templateColumns={{ base: "1fr", sm: "1fr 1fr" }} gap="3">
            <Choice label="Soil" value={soil} change={setSoil} error={problems["soil_id"]}>
              <option value="">choose a soil</option>
              {soils.data?.map((s) => (
                <option key={s.id} value={s.id}>
                  {s.name}
                </option>
              ))}
            </Choice>
            <Line
              label="In force from"
              type="date"
              value={soilFrom}
              change={setSoilFrom}
              help="empty: it was always so"
            />
          </Grid>
        )}
      </Grid>
      {bulk.error && <Notice error={bulk.error} />}
    </Sheet>
  );
}
