import { Box, Button, Flex, Grid, Heading, Text } from "@chakra-ui/react";
import { useState, type FormEvent } from "react";
import { Link, useNavigate, useParams } from "react-router";
import { Loading } from "../app/Loading";
import { Notice } from "../app/Notice";
import { useSignedIn } from "../session/context";
import { measure } from "../units/format";
import { CropChoice } from "../crops/CropChoice";
import { useCrops } from "../crops/queries";
import { DateLine } from "../form/DateLine";
import { Choice, Line } from "../form/Labelled";
import { problemsOf } from "../form/problems";
import { useSettled } from "../form/useSettled";
import { horizonsIn } from "../soils/horizonForm";
import { usePreview, useSoils, type SoilRow } from "../soils/queries";
import { blockIn, emptyForm, formOf, NEW_SOIL, previewIn, type BlockForm } from "./form";
import { errorsOf, input, type BlockFields } from "./fields";
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
  const [form, setForm] = useState<BlockForm>(() => (was ? formOf(was, units) : emptyForm(units)));
  const save = useSaveBlock(farm.slug, id);
  const fields: BlockFields = {
    form,
    set: (changes) => setForm((now) => ({ ...now, ...changes })),
    errors: errorsOf(save.error),
  };
  const described = form.soil === NEW_SOIL;
  const settled = useSettled(previewIn(form, units), 350);
  const preview = usePreview(farm.slug, described ? settled : null);
  const crops = useCrops(farm.slug);
  const crop = crops.data?.find((c) => c.key === form.crop);
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

  function submit(event: FormEvent) {
    event.preventDefault();
    save.mutate(blockIn(form, units, was), {
      onSuccess: (block) => void navigate(`/${farm.slug}/blocks/${block.id}`),
    });
  }

  return (
    <Box maxW="1240px">
      <Text fontSize="sm" color="inkSoft">
        <Link to={back}>← {was ? was.name : t("setup.board")}</Link>
      </Text>
      <Heading as="h1" size="2xl" fontWeight="700" mb="3">
        {was ? t("setup.edit", { name: was.name }) : t("setup.newBlock")}
      </Heading>
      <form onSubmit={submit} noValidate>
        <Grid templateColumns={{ base: "minmax(0,1fr)", lg: "minmax(0, 1fr) 320px" }} gap="8">
          <Flex direction="column" gap="7">
            <Grid templateColumns={{ base: "1fr", md: "repeat(3, minmax(0, 1fr))" }} gap="3">
              <Line label={t("setup.name")} required {...input(fields, "name")} />
              <Line
                label={t("setup.area")}
                unit={measure(units, "area").label}
                numeric
                required
                {...input(fields, "area")}
              />
              <Choice label={t("setup.soil2")} {...input(fields, "soil")}>
                <option value={NEW_SOIL}>{t("setup.describeANewOneHere")}</option>
                {soils.map((s) => (
                  <option key={s.id} value={s.id}>
                    {s.name}
                  </option>
                ))}
              </Choice>
              {described && (
                <Line label={t("setup.nameOfTheSoil")} {...input(fields, "soilName")} />
              )}
              {was && form.soil !== String(was.soil_id) && (
                <DateLine
                  label={t("setup.onThisSoilFrom")}
                  help={t("setup.leaveEmptyIfItAlwaysWas")}
                  {...input(fields, "soilFrom")}
                />
              )}
            </Grid>
            {!described && (
              <Text fontSize="sm" mt="-4">
                <Link
                  to={`/${farm.slug}/farm/soils/${form.soil}`}
                  style={{ textDecoration: "underline" }}
                >
                  {t("setup.openThisSoil")}
                </Link>{" "}
                {t("setup.toSeeOrChangeItsHorizons")}
              </Text>
            )}
            {described && <Horizons fields={fields} catalogue={catalogue} />}
            <Box as="section">
              <Heading as="h2" size="lg" mb="2">
                {t("setup.crop")}
              </Heading>
              <Grid templateColumns={{ base: "1fr", md: "1.4fr 1fr 1.4fr" }} gap="3">
                <Box>
                  <CropChoice {...input(fields, "crop")} none={t("setup.noCrop")} />
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
                <DateLine label={t("setup.plantedOrBudBreak")} {...input(fields, "planted")} />
                <Choice label={t("setup.estimateFrom")} {...input(fields, "estimateFrom")}>
                  <option value="combined">{t("setup.sensorsAndWaterBalanceCombined")}</option>
                  <option value="sensors">{t("setup.sensorsOnly")}</option>
                  <option value="balance">{t("setup.waterBalanceOnly")}</option>
                </Choice>
                <Choice label={t("setup.cropCoefficient")} {...input(fields, "dual")}>
                  <option value="single">{t("setup.singleKc")}</option>
                  <option value="dual">{t("setup.dualSoilEvaporationApart")}</option>
                </Choice>
                {id === null ? (
                  <Choice label={t("setup.allowableDepletion")} {...input(fields, "refillMethod")}>
                    <option value="crop_p">{t("setup.cropsPAdjustedForEt")}</option>
                    <option value="flat">{t("setup.fixedHalfOfAvailableWater")}</option>
                    <option value="tension">{t("setup.cropsTensionLimit")}</option>
                  </Choice>
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
              fields={fields}
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
                horizons={horizonsIn(form.horizons, units)}
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
