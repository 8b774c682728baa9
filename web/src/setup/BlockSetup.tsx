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
import { DayField } from "./DayField";
import { Horizons } from "./Horizons";
import { Irrigation } from "./Irrigation";
import { useCatalogue, useSaveBlock, useSetup, type BlockSetup, type Catalogue } from "./queries";
import { SoilPicture } from "./SoilPicture";
import { t } from "./t";

export function NewBlock() {
  const { farm, units } = useSignedIn();
  const catalogue = useCatalogue();
  const soils = useSoils(farm.slug);
  const error = catalogue.error ?? soils.error;
  if (error) return <Notice error={error} />;
  if (!catalogue.data || !soils.data) return <Loading what={t("setup.loadingTheCatalogue")} />;
  return (
    <Setup key={units} id={null} block={undefined} catalogue={catalogue.data} soils={soils.data} />
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
  if (!catalogue.data || !setup.data || !soils.data)
    return <Loading what={t("setup.loadingTheBlock")} />;
  return (
    <Setup
      key={units}
      id={Number(id)}
      block={setup.data}
      catalogue={catalogue.data}
      soils={soils.data}
    />
  );
}

interface SetupProps {
  id: number | null;
  /** As it stands; none where it is new. */
  block: BlockSetup | undefined;
  catalogue: Catalogue;
  soils: SoilRow[];
}

function Setup({ id, block: was, catalogue, soils }: SetupProps) {
  const { farm, units, may } = useSignedIn();
  const navigate = useNavigate();
  const form = useForm<BlockForm>({
    defaultValues: was ? formOf(was, units) : emptyForm(units),
  });
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
          {t("setup.notAllowedInYourRole")}
        </Heading>
        <Text mt="2">
          {t("setup.aCantSetUpBlocksAskThe", { role: t(`role.${farm.role}`) })}{" "}
          <Link to={back}>{t("setup.back")}</Link>
        </Text>
      </Box>
    );
  }

  const submit = form.handleSubmit((values) => {
    form.clearErrors();
    save.mutate(blockIn(values, units, was), {
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
    <Box maxW="1240px">
      <Text fontSize="sm" color="inkSoft">
        <Link to={back}>← {was ? was.name : t("setup.board")}</Link>
      </Text>
      <Heading as="h1" size="2xl" fontWeight="700" mb="3">
        {was ? t("setup.edit", { name: was.name }) : t("setup.newBlock")}
      </Heading>
      <form onSubmit={(e) => void submit(e)} noValidate>
        <Grid templateColumns={{ base: "minmax(0,1fr)", lg: "minmax(0, 1fr) 320px" }} gap="8">
          <Flex direction="column" gap="7">
            <Grid templateColumns={{ base: "1fr", md: "repeat(3, minmax(0, 1fr))" }} gap="3">
              <TextField
                label={t("setup.name")}
                required
                field={form.register("name")}
                error={errors.name?.message}
              />
              <TextField
                label={t("setup.area")}
                unit={measure(units, "area").label}
                numeric
                required
                field={form.register("area")}
                error={errors.area?.message}
              />
              <ChoiceField
                label={t("setup.soil2")}
                field={form.register("soil")}
                error={errors.soil?.message}
              >
                <option value={NEW_SOIL}>{t("setup.describeANewOneHere")}</option>
                {soils.map((s) => (
                  <option key={s.id} value={s.id}>
                    {s.name}
                  </option>
                ))}
              </ChoiceField>
              {described && (
                <TextField
                  label={t("setup.nameOfTheSoil")}
                  field={form.register("soilName")}
                  error={errors.soilName?.message}
                />
              )}
              {was && watched.soil !== String(was.soil_id) && (
                <DayField
                  label={t("setup.onThisSoilFrom")}
                  help={t("setup.leaveEmptyIfItAlwaysWas")}
                  name="soilFrom"
                  form={form}
                />
              )}
            </Grid>
            {!described && (
              <Text fontSize="sm" mt="-4">
                <Link
                  to={`/${farm.slug}/farm/soils/${watched.soil}`}
                  style={{ textDecoration: "underline" }}
                >
                  {t("setup.openThisSoil")}
                </Link>{" "}
                {t("setup.toSeeOrChangeItsHorizons")}
              </Text>
            )}
            {described && <Horizons form={form} catalogue={catalogue} />}
            <Box as="section">
              <Heading as="h2" size="lg" mb="2">
                {t("setup.crop")}
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
                        none={t("setup.noCrop")}
                      />
                    )}
                  />
                  {crop && (
                    <Text fontSize="xs" color="inkSoft" mt="1">
                      {t("setup.pKcOnEtDays", {
                        p: crop.p,
                        kc: crop.kc.join(" / "),
                        surface: t(`surface.${crop.surface}`),
                        reduce: crop.stage_days.reduce((a, b) => a + b),
                      })}{" "}
                      {crop.sources["kc"]}
                    </Text>
                  )}
                </Box>
                <DayField label={t("setup.plantedOrBudBreak")} name="planted" form={form} />
                <ChoiceField label={t("setup.estimateFrom")} field={form.register("estimateFrom")}>
                  <option value="combined">{t("setup.sensorsAndWaterBalanceCombined")}</option>
                  <option value="sensors">{t("setup.sensorsOnly")}</option>
                  <option value="balance">{t("setup.waterBalanceOnly")}</option>
                </ChoiceField>
                <ChoiceField
                  label={t("setup.cropCoefficient")}
                  field={form.register("dual")}
                  error={errors.dual?.message}
                >
                  <option value="single">{t("setup.singleKc")}</option>
                  <option value="dual">{t("setup.dualSoilEvaporationApart")}</option>
                </ChoiceField>
                {id === null ? (
                  <ChoiceField
                    label={t("setup.allowableDepletion")}
                    field={form.register("refillMethod")}
                  >
                    <option value="crop_p">{t("setup.cropsPAdjustedForEt")}</option>
                    <option value="flat">{t("setup.fixedHalfOfAvailableWater")}</option>
                    <option value="tension">{t("setup.cropsTensionLimit")}</option>
                  </ChoiceField>
                ) : (
                  <Text fontSize="sm" alignSelf="end" pb="2">
                    <Link
                      to={`/${farm.slug}/blocks/${id}/limits`}
                      style={{ textDecoration: "underline" }}
                    >
                      {t("setup.limitsAndSeason")}
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
                {id === null ? t("setup.addBlock") : t("setup.saveChanges")}
              </Button>
              <Button asChild variant="ghost">
                <Link to={back}>{t("setup.cancel")}</Link>
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
              {t("setup.beforeDiggingOrAugeringHaveBuried")}
            </Text>
          </Box>
        </Grid>
      </form>
    </Box>
  );
}
