import { Box, Button, Flex, Grid, Heading, Text } from "@chakra-ui/react";
import { useEffect, useState } from "react";
import { useForm, useWatch, type FieldPath } from "react-hook-form";
import { Link, useNavigate, useParams } from "react-router";
import { Refusal } from "../api/client";
import { Loading } from "../app/Loading";
import { Notice } from "../app/Notice";
import { useSignedIn } from "../session/context";
import { measure } from "../units/format";
import { ChoiceField } from "./ChoiceField";
import { blockIn, emptyForm, fieldOf, formOf, horizonsIn, previewIn, type BlockForm } from "./form";
import { Horizons } from "./Horizons";
import { useCatalogue, usePreview, useSaveBlock, useSetup, type Catalogue } from "./queries";
import { SoilPicture } from "./SoilPicture";
import { TextField } from "./TextField";

export function NewBlock() {
  const catalogue = useCatalogue();
  const { units } = useSignedIn();
  if (catalogue.error) return <Notice error={catalogue.error} />;
  if (!catalogue.data) return <Loading what="Opening the catalogue" />;
  return <Setup key={units} id={null} start={emptyForm(units)} catalogue={catalogue.data} />;
}

export function ChangeBlock() {
  const { block: id } = useParams();
  const { farm, units } = useSignedIn();
  const catalogue = useCatalogue();
  const setup = useSetup(farm.slug, Number(id));
  const error = catalogue.error ?? setup.error;
  if (error) return <Notice error={error} />;
  if (!catalogue.data || !setup.data) return <Loading what="Opening the block" />;
  return (
    <Setup
      key={units}
      id={Number(id)}
      start={formOf(setup.data, units)}
      catalogue={catalogue.data}
    />
  );
}

/** The value, once it has stood still for a moment. */
function useSettled<T>(value: T, ms: number): T {
  const [settled, setSettled] = useState(value);
  const key = JSON.stringify(value);
  useEffect(() => {
    const timer = setTimeout(() => setSettled(JSON.parse(key) as T), ms);
    return () => clearTimeout(timer);
  }, [key, ms]);
  return settled;
}

interface SetupProps {
  id: number | null;
  start: BlockForm;
  catalogue: Catalogue;
}

function Setup({ id, start, catalogue }: SetupProps) {
  const { farm, units, may } = useSignedIn();
  const navigate = useNavigate();
  const form = useForm<BlockForm>({ defaultValues: start });
  const save = useSaveBlock(farm.slug, id);
  const watched = useWatch({ control: form.control }) as BlockForm;
  const preview = usePreview(farm.slug, useSettled(previewIn(watched, units), 350));
  const { errors } = form.formState;
  const crop = catalogue.crops.find((c) => c.key === watched.crop);
  const groups = [...new Set(catalogue.crops.map((c) => c.group))];
  const back = id === null ? `/${farm.slug}` : `/${farm.slug}/blocks/${id}`;
  const moves = catalogue.moving_kinds.some((k) => k === watched.kind);

  if (!may("set_up_ground")) {
    return (
      <Box p="6">
        <Heading as="h1" size="xl">
          Not in your role
        </Heading>
        <Text mt="2">
          A {farm.role} can't set up blocks. Ask the manager. <Link to={back}>Back</Link>
        </Text>
      </Box>
    );
  }

  const submit = form.handleSubmit((values) => {
    form.clearErrors();
    save.mutate(blockIn(values, units), {
      onSuccess: (block) => void navigate(`/${farm.slug}/blocks/${block.id}`),
      onError: (error) => {
        if (!(error instanceof Refusal)) return;
        for (const problem of error.problems) {
          form.setError(fieldOf(problem.field) as FieldPath<BlockForm>, {
            message: problem.message,
          });
        }
      },
    });
  });

  return (
    <Box maxW="1240px" mx="auto">
      <Text fontSize="sm" color="inkSoft">
        <Link to={back}>← {id === null ? "Board" : start.name}</Link>
      </Text>
      <Heading as="h1" size="2xl" fontWeight="700" mb="3">
        {id === null ? "New block" : `Change ${start.name}`}
      </Heading>
      <form onSubmit={(e) => void submit(e)} noValidate>
        <Grid templateColumns={{ base: "minmax(0,1fr)", lg: "minmax(0, 1fr) 320px" }} gap="8">
          <Flex direction="column" gap="7">
            <Grid templateColumns={{ base: "1fr", md: "1.4fr 1fr 1.4fr" }} gap="3">
              <TextField
                label="Name"
                required
                field={form.register("name")}
                error={errors.name?.message}
              />
              <TextField
                label="Area"
                unit={measure(units, "area").label}
                numeric
                required
                field={form.register("area")}
                error={errors.area?.message}
              />
              <TextField
                label="Name of the soil"
                field={form.register("soilName")}
                error={errors.soilName?.message}
              />
            </Grid>
            <Horizons form={form} catalogue={catalogue} />
            <Box as="section">
              <Heading as="h2" size="lg" mb="2">
                Crop
              </Heading>
              <Grid templateColumns={{ base: "1fr", md: "1.4fr 1fr 1.4fr" }} gap="3">
                <ChoiceField
                  label="Crop"
                  field={form.register("crop")}
                  error={errors.crop?.message}
                  help={
                    crop
                      ? `p ${crop.p}, Kc ${crop.kc.join(" / ")} on grass ET, ${crop.stage_days.reduce((a, b) => a + b)} days; ${crop.sources["kc"] ?? ""}`
                      : undefined
                  }
                >
                  <option value="">no crop</option>
                  {groups.map((group) => (
                    <optgroup key={group} label={group}>
                      {catalogue.crops
                        .filter((c) => c.group === group)
                        .map((c) => (
                          <option key={c.key} value={c.key}>
                            {c.name}
                          </option>
                        ))}
                    </optgroup>
                  ))}
                </ChoiceField>
                <TextField
                  label="Planted, or bud break"
                  type="date"
                  field={form.register("planted")}
                  error={errors.planted?.message}
                />
                <ChoiceField label="May be used" field={form.register("school")}>
                  <option value="crop_p">crop's p, adjusted for ET</option>
                  <option value="flat">flat half of the available</option>
                </ChoiceField>
              </Grid>
            </Box>
            <Box as="section">
              <Heading as="h2" size="lg" mb="2">
                Irrigation
              </Heading>
              <Grid templateColumns={{ base: "1fr 1fr", md: "1.4fr 1fr 1fr 1fr" }} gap="3">
                <ChoiceField
                  label="System"
                  field={form.register("kind")}
                  help={moves ? "Wets the block part by part" : "Wets the whole block at once"}
                >
                  {catalogue.system_kinds.map((k) => (
                    <option key={k} value={k}>
                      {k}
                    </option>
                  ))}
                </ChoiceField>
                <ChoiceField label="Known by" field={form.register("rateOrFlow")}>
                  <option value="rate">application rate</option>
                  <option value="flow">flow to the block</option>
                </ChoiceField>
                {watched.rateOrFlow === "rate" ? (
                  <TextField
                    label="Rate"
                    unit={measure(units, "rate").label}
                    numeric
                    required
                    field={form.register("rate")}
                    error={errors.rate?.message}
                  />
                ) : (
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
              </Grid>
            </Box>
            {save.error && <Notice error={save.error} />}
            <Flex gap="3">
              <Button type="submit" loading={save.isPending}>
                {id === null ? "Make the block" : "Save the changes"}
              </Button>
              <Button asChild variant="ghost">
                <Link to={back}>Cancel</Link>
              </Button>
            </Flex>
          </Flex>
          <Box position={{ lg: "sticky" }} top="4" alignSelf="start">
            <SoilPicture
              horizons={horizonsIn(watched, units)}
              preview={preview.data}
              error={preview.error}
            />
            <Text fontSize="xs" color="inkSoft" mt="4">
              Before digging or augering: have buried services located, and look up for power lines.
            </Text>
          </Box>
        </Grid>
      </form>
    </Box>
  );
}
