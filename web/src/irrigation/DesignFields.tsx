import { Grid } from "@chakra-ui/react";
import { Line } from "../form/Labelled";
import { measure, type UnitSystem } from "../units/format";
import { FIGURES, type DesignForm, type SystemKind } from "./designs";
import { t } from "./t";

interface Props {
  kind: SystemKind;
  form: DesignForm;
  change: (form: DesignForm) => void;
  problems: Record<string, string>;
  units: UnitSystem;
}

/** The figures a system of its kind is known by. */
export function DesignFields({ kind, form, change, problems, units }: Props) {
  return (
    <Grid templateColumns={{ base: "1fr 1fr", md: "repeat(3, minmax(0, 1fr))" }} gap="3">
      {FIGURES[kind].map((f) => {
        const unit = f.as ? measure(units, f.as).label : f.unit;
        return (
          <Line
            key={f.name}
            label={f.label}
            {...(unit ? { unit } : {})}
            numeric
            value={form[f.name] ?? ""}
            error={problems[`system.design.${f.name}`]}
            help={f.optional ? t("irrigation.ifAny") : undefined}
            change={(v) => change({ ...form, [f.name]: v })}
          />
        );
      })}
    </Grid>
  );
}
