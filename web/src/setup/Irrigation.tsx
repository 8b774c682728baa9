import { Box, Grid, Heading, Text } from "@chakra-ui/react";
import { Controller, useWatch, type UseFormReturn } from "react-hook-form";
import { Link } from "react-router";
import { ChoiceField } from "../form/ChoiceField";
import { problemsOf } from "../form/problems";
import { TextField } from "../form/TextField";
import { useSettled } from "../form/useSettled";
import { DesignFields } from "../irrigation/DesignFields";
import { designIn, hasDesign } from "../irrigation/designForm";
import { DesignResult } from "../irrigation/DesignResult";
import { useDesign, type DesignIn } from "../irrigation/queries";
import { useSignedIn } from "../session/context";
import { measure, typed, type UnitSystem } from "../units/format";
import { NEW_SOIL, type BlockForm } from "./form";
import { usePeople, type Catalogue } from "./queries";

const LIKELY_MM = 25;

interface Props {
  form: UseFormReturn<BlockForm>;
  catalogue: Catalogue;
  block: number | null;
  problems: Record<string, string>;
}

const range = (share: number[]) => share.map((s) => Math.round(s * 100)).join("–") + " %";

function request(form: BlockForm, units: UnitSystem): DesignIn | null {
  const area = typed(form.area, units, "area");
  if (form.knownBy !== "design" || !hasDesign(form.kind, form.design) || !area) return null;
  return {
    kind: form.kind as DesignIn["kind"],
    figures: designIn(form.kind, form.design, units),
    area_m2: area,
    slope_percent: Number(form.slope.replace(",", ".")) || 0,
    gross_mm: typed(form.largest, units, "water") ?? LIKELY_MM,
    soil_id: form.soil === NEW_SOIL ? null : Number(form.soil),
  };
}

/** The irrigation system: by its design's figures, or by a rate or flow that is known. */
export function Irrigation({ form, catalogue, block, problems }: Props) {
  const { farm, units } = useSignedIn();
  const watched = useWatch({ control: form.control }) as BlockForm;
  const { errors } = form.formState;
  const moves = catalogue.moving_kinds.some((k) => k === watched.kind);
  const body = useSettled(request(watched, units), 300);
  const people = usePeople(farm.slug);
  const design = useDesign(farm.slug, body);
  const usual = catalogue.usual.find((u) => u.kind === watched.kind);
  const missing = problemsOf(design.error);
  const worked = watched.knownBy === "design" ? design.data : undefined;
  return (
    <Box as="section">
      <Heading as="h2" size="lg" mb="2">
        Irrigation
      </Heading>
      <Grid templateColumns={{ base: "1fr 1fr", md: "1.4fr 1.2fr 1fr 1fr" }} gap="3">
        <ChoiceField
          label="System"
          field={form.register("kind")}
          help={[
            moves ? "Wets the block part by part" : "Wets the whole block at once",
            usual?.wetted &&
              watched.knownBy !== "design" &&
              `assumed to wet ${Math.round(usual.wetted * 100)} % of the ground (${usual.wetted_source}); its design's figures can state it`,
          ]
            .filter(Boolean)
            .join("; ")}
        >
          {catalogue.system_kinds.map((k) => (
            <option key={k} value={k}>
              {k}
            </option>
          ))}
        </ChoiceField>
        <ChoiceField label="Known by" field={form.register("knownBy")}>
          <option value="design">its design's figures</option>
          <option value="rate">application rate</option>
          <option value="flow">flow to the block</option>
        </ChoiceField>
        {watched.knownBy === "rate" && (
          <TextField
            label="Rate"
            unit={measure(units, "rate").label}
            numeric
            required
            field={form.register("rate")}
            error={errors.rate?.message}
          />
        )}
        {watched.knownBy === "flow" && (
          <TextField
            label="Flow"
            unit={measure(units, "flow").label}
            numeric
            required
            field={form.register("flow")}
            error={errors.flow?.message}
          />
        )}
        <TextField
          label="Efficiency"
          unit="%"
          numeric
          required
          {...(usual ? { help: `usually ${range(usual.efficiency)}` } : {})}
          field={form.register("efficiency")}
          error={errors.efficiency?.message}
        />
        <TextField
          label="Smallest set"
          unit={measure(units, "water").label}
          numeric
          help="gross; empty if any"
          field={form.register("smallest")}
          error={errors.smallest?.message}
        />
        <TextField
          label="Largest set"
          unit={measure(units, "water").label}
          numeric
          help="gross; empty if any"
          field={form.register("largest")}
          error={errors.largest?.message}
        />
        <TextField
          label="Room for rain"
          unit={measure(units, "water").label}
          numeric
          help="left unfilled"
          field={form.register("rainRoom")}
          error={errors.rainRoom?.message}
        />
        <TextField
          label="Slope"
          unit="%"
          numeric
          field={form.register("slope")}
          error={errors.slope?.message}
        />
        <TextField
          label="Salt of the water, ECw"
          unit="dS/m"
          numeric
          help="empty: not measured"
          field={form.register("ecw")}
          error={errors.ecw?.message}
        />
        <TextField
          label="Water table depth"
          unit={measure(units, "depth").label}
          numeric
          help="where no observation well tells it; empty: not known"
          field={form.register("table")}
          error={errors.table?.message}
        />
        <TextField
          label="Capillary rise"
          unit={measure(units, "waterDay").label}
          numeric
          help="counts where no water table is known; empty: none"
          field={form.register("rise")}
          error={errors.rise?.message}
        />
        {!moves && (
          <ChoiceField
            label="Irrigate"
            field={form.register("daily")}
            help="every day: little and often, what was used"
          >
            <option value="refill">by the refill point</option>
            <option value="daily">every day</option>
          </ChoiceField>
        )}
        <TextField
          label="Water comes from"
          help="pump, main or ditch"
          field={form.register("supply")}
          error={errors.supply?.message}
        />
        <ChoiceField
          label="Watered by"
          field={form.register("irrigator")}
          error={errors.irrigator?.message}
        >
          <option value="">nobody named</option>
          {people.data?.map((p) => (
            <option key={p.id} value={p.id}>
              {p.name}
            </option>
          ))}
        </ChoiceField>
      </Grid>
      {watched.knownBy === "design" && (
        <Box mt="4">
          <Controller
            control={form.control}
            name="design"
            render={({ field }) => (
              <DesignFields
                kind={watched.kind}
                form={field.value}
                change={field.onChange}
                problems={body ? { ...missing, ...problems } : problems}
                units={units}
              />
            )}
          />
          {worked && body && !design.error && (
            <Box mt="3">
              <DesignResult found={worked} grossMm={body.gross_mm ?? 0} areaM2={body.area_m2} />
            </Box>
          )}
        </Box>
      )}
      {block !== null && (
        <Text mt="3" fontSize="sm">
          {usual && `Low-quarter uniformity is usually ${range(usual.du_lq)} (${usual.source}). `}
          <Link
            to={`/${farm.slug}/blocks/${block}/catch-cans`}
            style={{ textDecoration: "underline" }}
          >
            Catch-can tests
          </Link>{" "}
          show how even it really is.
        </Text>
      )}
    </Box>
  );
}
