import { Box, Button, Field, Flex, Grid, Heading, Text } from "@chakra-ui/react";
import { useSignedIn } from "../session/context";
import { measure } from "../units/format";
import type { Schemas } from "../api/client";
import { Choice, Line } from "../form/Labelled";
import { BY_FRACTIONS, EMPTY_HORIZON, type HorizonForm } from "../soils/horizonForm";
import { METHOD_NAMES } from "../soils/Methods";
import type { BlockFields } from "./fields";
import type { Catalogue } from "./queries";
import { t } from "./t";

/* The methods that need no measurements; the others are in the soil's own page. */
const METHODS: Schemas["LimitMethod"][] = ["regression", "class means", "rosetta", "book"];
const MOST = 12;
const FRACTIONS = { sand: t("setup.sand"), silt: t("setup.silt"), clay: t("setup.clay") } as const;

/** The soil, horizon by horizon from the surface down. */
export function Horizons({ fields, catalogue }: { fields: BlockFields; catalogue: Catalogue }) {
  const { units } = useSignedIn();
  const { horizons } = fields.form;
  const put = (changed: HorizonForm[]) => fields.set({ horizons: changed });
  const depth = measure(units, "depth").label;
  return (
    <Box as="section">
      <Heading as="h2" size="lg" mb="1">
        {t("setup.soilFromTheSurfaceDown")}
      </Heading>
      <Text color="inkSoft" fontSize="sm" mb="3">
        {t("setup.describeItAtLeastAsDeepAs")}
      </Text>
      {horizons.map((horizon, i) => (
        <Horizon
          key={i}
          horizon={horizon}
          change={(part) => put(horizons.map((h, j) => (j === i ? { ...h, ...part } : h)))}
          errors={fields.errors}
          catalogue={catalogue}
          index={i}
          top={i === 0 ? "0" : horizons[i - 1]?.bottom || "?"}
          depth={depth}
          remove={horizons.length > 1 ? () => put(horizons.filter((_, j) => j !== i)) : null}
        />
      ))}
      <Button
        size="xs"
        variant="outline"
        mt="2"
        disabled={horizons.length >= MOST}
        onClick={() => put([...horizons, { ...EMPTY_HORIZON }])}
      >
        {t("setup.addAHorizonBelow")}
      </Button>
    </Box>
  );
}

interface HorizonProps {
  horizon: HorizonForm;
  change: (part: Partial<HorizonForm>) => void;
  errors: Record<string, string>;
  catalogue: Catalogue;
  index: number;
  top: string;
  depth: string;
  remove: (() => void) | null;
}

function Horizon(props: HorizonProps) {
  const { horizon, change, errors, catalogue, index, top, depth, remove } = props;
  const whole = errors[`horizons.${index}.`] ?? errors[`horizons.${index}`];
  const at = (name: Exclude<keyof HorizonForm, "points" | "stopsRoots">) => ({
    value: horizon[name],
    change: (value: string) => change({ [name]: value }),
    error: errors[`horizons.${index}.${name}`],
  });
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
          <Line label={t("setup.downTo")} unit={depth} numeric required {...at("bottom")} />
          <Choice label={t("setup.texture")} {...at("texture")}>
            <option value={BY_FRACTIONS}>{t("setup.byPercentages")}</option>
            {catalogue.textures.map((one) => (
              <option key={one} value={one}>
                {t(`texture.${one}`)}
              </option>
            ))}
          </Choice>
          <Line label={t("setup.orgMatter")} unit="%" numeric {...at("organic")} />
          <Line label={t("setup.gravelVol")} unit="%" numeric {...at("gravel")} />
          <Choice label={t("setup.limits")} {...at("method")}>
            {METHODS.map((m) => (
              <option key={m} value={m}>
                {METHOD_NAMES[m]}
              </option>
            ))}
          </Choice>
        </Grid>
        {horizon.texture === BY_FRACTIONS && (
          <Grid templateColumns="repeat(3, minmax(0, 110px))" gap="3" mt="2">
            {(["sand", "silt", "clay"] as const).map((name) => (
              <Line key={name} label={FRACTIONS[name]} unit="%" numeric {...at(name)} />
            ))}
          </Grid>
        )}
        {whole && (
          <Field.Root invalid>
            <Field.ErrorText>{whole}</Field.ErrorText>
          </Field.Root>
        )}
      </fieldset>
    </Box>
  );
}
