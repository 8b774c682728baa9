import { Box, Button, Flex, Grid, Heading, Text } from "@chakra-ui/react";
import { Controller, useForm, useWatch, type FieldPath } from "react-hook-form";
import { Link, useNavigate, useParams } from "react-router";
import { Refusal } from "../api/client";
import { Loading } from "../app/Loading";
import { Notice } from "../app/Notice";
import { useSignedIn } from "../session/context";
import { measure } from "../units/format";
import { CropChoice } from "../crops/CropChoice";
import { useCrops } from "../crops/queries";
import { ChoiceField } from "../form/ChoiceField";
import { problemsOf } from "../form/problems";
import { TextField } from "../form/TextField";
import { useSettled } from "../form/useSettled";
import { horizonsIn } from "../soils/horizonForm";
import { usePreview, useSoils, type SoilRow } from "../soils/queries";
import { blockIn, emptyForm, fieldOf, formOf, NEW_SOIL, previewIn, type BlockForm } from "./form";
import { Horizons } from "./Horizons";
import { Irrigation } from "./Irrigation";
import { useCatalogue, useSaveBlock, useSetup, type Catalogue } from "./queries";
import { SoilPicture } from "./SoilPicture";

export function NewBlock() {
  const { farm, units } = useSignedIn();
  const catalogue = useCatalogue();
  const soils = useSoils(farm.slug);
  const error = catalogue.error ?? soils.error;
  if (error) return <Notice error={error} />;
  if (!catalogue.data || !soils.data) return <Loading what="Opening the catalogue" />;
  return (
    <Setup
      key={units}
      id={null}
      start={emptyForm(units)}
      catalogue={catalogue.data}
      soils={soils.data}
    />
  );
}

export function ChangeBlock() {
  const { block: id } = useParams();
  const { farm, units } = useSignedIn();
  const catalogue = useCatalogue();
  const setup = useSetup(farm.slug, Number(id));
  const soils = useSoils(farm.slug);
  const error = catalogue.error ?? setup.error ?? soils.error;
  if (error) return <Notice error={error} />;
  if (!catalogue.data || !setup.data || !soils.data) return <Loading what="Opening the block" />;
  return (
    <Setup
      key={units}
      id={Number(id)}
      start={formOf(setup.data, units)}
      catalogue={catalogue.data}
      soils={soils.data}
    />
  );
}

interface SetupProps {
  id: number | null;
  start: BlockForm;
  catalogue: Catalogue;
  soils: SoilRow[];
}

function Setup({ id, start, catalogue, soils }: SetupProps) {
  const { farm, units, may } = useSignedIn();
  const navigate = useNavigate();
  const form = useForm<BlockForm>({ defaultValues: start });
  const save = useSaveBlock(farm.slug, id);
  const watched = useWatch({ control: form.control }) as BlockForm;
  const described = watched.soil === NEW_SOIL;
  const settled = useSettled(previewIn(watched, units), 350);
  const preview = usePreview(farm.slug, described ? settled : null);
  const crops = useCrops(farm.slug);
  const { errors } = form.formState;
  const crop = crops.data?.find((c) => c.key === watched.crop);
  const back = id === null ? `/${farm.slug}` : `/${farm.slug}/blocks/${id}`;

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
            <Grid templateColumns={{ base: "1fr", md: "repeat(3, minmax(0, 1fr))" }} gap="3">
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
              <ChoiceField label="Soil" field={form.register("soil")} error={errors.soil?.message}>
                <option value={NEW_SOIL}>describe a new one here</option>
                {soils.map((s) => (
                  <option key={s.id} value={s.id}>
                    {s.name}
                  </option>
                ))}
              </ChoiceField>
              {described && (
                <TextField
                  label="Name of the soil"
                  field={form.register("soilName")}
                  error={errors.soilName?.message}
                />
              )}
              {id !== null && watched.soil !== start.soil && (
                <TextField
                  label="It stands on that from"
                  type="date"
                  help="empty: it always did"
                  field={form.register("soilFrom")}
                  error={errors.soilFrom?.message}
                />
              )}
            </Grid>
            {!described && (
              <Text fontSize="sm" mt="-4">
                <Link
                  to={`/${farm.slug}/ground/soils/${watched.soil}`}
                  style={{ textDecoration: "underline" }}
                >
                  Open this soil
                </Link>{" "}
                to see or change its horizons.
              </Text>
            )}
            {described && <Horizons form={form} catalogue={catalogue} />}
            <Box as="section">
              <Heading as="h2" size="lg" mb="2">
                Crop
              </Heading>
              <Grid templateColumns={{ base: "1fr", md: "1.4fr 1fr 1.4fr" }} gap="3">
                <Box>
                  <Controller
                    control={form.control}
                    name="crop"
                    render={({ field }) => (
                      <CropChoice
                        value={field.value}
                        change={field.onChange}
                        error={errors.crop?.message}
                        none="no crop"
                      />
                    )}
                  />
                  {crop && (
                    <Text fontSize="xs" color="inkSoft" mt="1">
                      p {crop.p}, Kc {crop.kc.join(" / ")} on {crop.surface} ET,{" "}
                      {crop.stage_days.reduce((a, b) => a + b)} days; {crop.sources["kc"]}
                    </Text>
                  )}
                </Box>
                <TextField
                  label="Planted, or bud break"
                  type="date"
                  field={form.register("planted")}
                  error={errors.planted?.message}
                />
                <ChoiceField label="Who leads" field={form.register("weighing")}>
                  <option value="blend">sensors and balance, weighed</option>
                  <option value="sensors">the sensors</option>
                  <option value="balance">the balance</option>
                </ChoiceField>
                <ChoiceField
                  label="Crop coefficient"
                  field={form.register("dual")}
                  error={errors.dual?.message}
                >
                  <option value="single">single Kc</option>
                  <option value="dual">dual: wet soil apart</option>
                </ChoiceField>
                {id === null ? (
                  <ChoiceField label="May be used" field={form.register("school")}>
                    <option value="crop_p">crop's p, adjusted for ET</option>
                    <option value="flat">flat half of the available</option>
                    <option value="tension">tension limit of the crop</option>
                  </ChoiceField>
                ) : (
                  <Text fontSize="sm" alignSelf="end" pb="2">
                    <Link
                      to={`/${farm.slug}/blocks/${id}/limits`}
                      style={{ textDecoration: "underline" }}
                    >
                      Limits and season
                    </Link>
                  </Text>
                )}
              </Grid>
            </Box>
            <Irrigation
              form={form}
              catalogue={catalogue}
              block={id}
              problems={problemsOf(save.error)}
            />
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
            {described && (
              <SoilPicture
                horizons={horizonsIn(watched.horizons, units)}
                preview={preview.data}
                error={preview.error}
              />
            )}
            <Text fontSize="xs" color="inkSoft" mt="4">
              Before digging or augering: have buried services located, and look up for power lines.
            </Text>
          </Box>
        </Grid>
      </form>
    </Box>
  );
}
