import { Box, Button, Field, Flex, Grid, Heading, Text } from "@chakra-ui/react";
import { useFieldArray, useWatch, type UseFormReturn } from "react-hook-form";
import { useSignedIn } from "../session/context";
import { measure } from "../units/format";
import type { Schemas } from "../api/client";
import { ChoiceField } from "../form/ChoiceField";
import { BY_FRACTIONS, EMPTY_HORIZON } from "../soils/horizonForm";
import { METHOD_NAMES } from "../soils/Methods";
import type { BlockForm } from "./form";
import type { Catalogue } from "./queries";
import { TextField } from "../form/TextField";
import { t } from "./t";

/* The methods that need no measurements; the others are in the soil's own page. */
const METHODS: Schemas["LimitMethod"][] = ["regression", "class means", "rosetta", "book"];

/** The soil, horizon by horizon from the surface down. */
export function Horizons({
  form,
  catalogue,
}: {
  form: UseFormReturn<BlockForm>;
  catalogue: Catalogue;
}) {
  const { units } = useSignedIn();
  const { fields, append, remove } = useFieldArray({ control: form.control, name: "horizons" });
  const depth = measure(units, "depth").label;
  const bottoms = useWatch({ control: form.control, name: "horizons" }).map((h) => h.bottom);
  return (
    <Box as="section">
      <Heading as="h2" size="lg" mb="1">
        {t("setup.soilFromTheSurfaceDown")}
      </Heading>
      <Text color="inkSoft" fontSize="sm" mb="3">
        {t("setup.describeItAtLeastAsDeepAs")}
      </Text>
      {fields.map((row, i) => (
        <Horizon
          key={row.id}
          form={form}
          catalogue={catalogue}
          index={i}
          top={i === 0 ? "0" : (bottoms[i - 1] ?? "") || "?"}
          depth={depth}
          remove={fields.length > 1 ? () => remove(i) : null}
        />
      ))}
      <Button
        size="xs"
        variant="outline"
        mt="2"
        disabled={fields.length >= 12}
        onClick={() => append({ ...EMPTY_HORIZON })}
      >
        {t("setup.addAHorizonBelow")}
      </Button>
    </Box>
  );
}

interface HorizonProps {
  form: UseFormReturn<BlockForm>;
  catalogue: Catalogue;
  index: number;
  top: string;
  depth: string;
  remove: (() => void) | null;
}

function Horizon({ form, catalogue, index, top, depth, remove }: HorizonProps) {
  const texture = useWatch({ control: form.control, name: `horizons.${index}.texture` });
  const errors = form.formState.errors.horizons?.[index];
  const at = <Name extends keyof BlockForm["horizons"][number]>(name: Name) =>
    form.register(`horizons.${index}.${name}`);
  return (
    <Box asChild borderTopWidth="1px" borderColor="rule" py="3" m="0" px="0">
      <fieldset>
        <Flex asChild justify="space-between" align="center" w="100%" fontWeight="600" mb="1">
          <legend>
            <span>{t("setup.horizonFrom", { index: index + 1, top, depth })}</span>
            {remove && (
              <Button size="xs" variant="ghost" onClick={remove}>
                {t("setup.remove")}
              </Button>
            )}
          </legend>
        </Flex>
        <Grid templateColumns={{ base: "1fr 1fr", md: "100px 1.2fr 90px 90px 1.4fr" }} gap="3">
          <TextField
            label={t("setup.downTo")}
            unit={depth}
            numeric
            required
            field={at("bottom")}
            error={errors?.bottom?.message}
          />
          <ChoiceField
            label={t("setup.texture")}
            field={at("texture")}
            error={errors?.texture?.message}
          >
            <option value={BY_FRACTIONS}>{t("setup.byPercentages")}</option>
            {catalogue.textures.map((one) => (
              <option key={one} value={one}>
                {t(`texture.${one}`)}
              </option>
            ))}
          </ChoiceField>
          <TextField
            label={t("setup.orgMatter")}
            unit="%"
            numeric
            field={at("organic")}
            error={errors?.organic?.message}
          />
          <TextField
            label={t("setup.gravelVol")}
            unit="%"
            numeric
            field={at("gravel")}
            error={errors?.gravel?.message}
          />
          <ChoiceField label={t("setup.limits")} field={at("method")}>
            {METHODS.map((m) => (
              <option key={m} value={m}>
                {METHOD_NAMES[m]}
              </option>
            ))}
          </ChoiceField>
        </Grid>
        {texture === BY_FRACTIONS && (
          <Grid templateColumns="repeat(3, minmax(0, 110px))" gap="3" mt="2">
            {(["sand", "silt", "clay"] as const).map((name) => (
              <TextField
                key={name}
                label={name}
                unit="%"
                numeric
                field={at(name)}
                error={errors?.[name]?.message}
              />
            ))}
          </Grid>
        )}
        {errors?.root?.message && (
          <Field.Root invalid>
            <Field.ErrorText>{errors.root.message}</Field.ErrorText>
          </Field.Root>
        )}
      </fieldset>
    </Box>
  );
}
