import { SegmentGroup } from "@chakra-ui/react";
import { useState } from "react";
import { Notice } from "../app/Notice";
import { FormSheet } from "../form/FormSheet";
import { problemsOf } from "../form/problems";
import { useSignedIn } from "../session/context";
import { SoilFields, type SoilChange } from "../soils/SoilFields";
import { usePutSoil, useSetRefill, type BlockLimits } from "./queries";
import { EMPTY_REFILL, RefillFields, refillIn, type RefillForm } from "./RefillFields";
import { valueSaid } from "./words";
import { t } from "./t";

/** A dated change of a block's limits: how refill is set, or the soil it stands on. */
export function ChangeLimits({ limits, close }: { limits: BlockLimits; close: () => void }) {
  const { farm } = useSignedIn();
  const [part, setPart] = useState("Refill");
  const [refill, setRefill] = useState<RefillForm>({ ...EMPTY_REFILL, from: limits.today });
  const [soil, setSoil] = useState<SoilChange>({
    soil: String(limits.soil_id),
    from: limits.today,
    reason: "",
  });
  const setRule = useSetRefill(farm.slug, limits.block_id);
  const putSoil = usePutSoil(farm.slug, limits.block_id);
  const error = part === "Refill" ? setRule.error : putSoil.error;

  function save() {
    if (part === "Refill") setRule.mutate(refillIn(refill), { onSuccess: close });
    else {
      putSoil.mutate(
        { soil: Number(soil.soil), from: soil.from || null, reason: soil.reason },
        { onSuccess: close },
      );
    }
  }

  return (
    <FormSheet
      title={t("limits.limitsOf", { name: limits.name })}
      close={close}
      save={save}
      words={t("limits.apply")}
      pending={setRule.isPending || putSoil.isPending}
      size="lg"
    >
      <SegmentGroup.Root
        size="sm"
        mb="4"
        value={part}
        onValueChange={(e) => setPart(e.value ?? "Refill")}
      >
        <SegmentGroup.Indicator />
        <SegmentGroup.Items
          items={[
            { value: "Refill", label: t("limits.refill") },
            { value: "Soil", label: t("limits.soil") },
          ]}
        />
      </SegmentGroup.Root>
      {part === "Refill" ? (
        <RefillFields
          form={refill}
          change={setRefill}
          problems={problemsOf(setRule.error)}
          own={(s) =>
            s === "flat"
              ? "half"
              : s === "tension"
                ? limits.crop_tension_kpa === null
                  ? t("limits.nonePublishedEnterOne")
                  : valueSaid("tension", limits.crop_tension_kpa)
                : t("limits.theCropsOwnP")
          }
        />
      ) : (
        <SoilFields form={soil} change={setSoil} problems={problemsOf(putSoil.error)} />
      )}
      {error && <Notice error={error} />}
    </FormSheet>
  );
}
