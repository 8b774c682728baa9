import { Box, Button, Flex, Grid, Heading, Table, Text } from "@chakra-ui/react";
import { useState } from "react";
import { Link } from "react-router";
import { LinkButton } from "../app/LinkButton";
import { Notice } from "../app/Notice";
import { SeasonFields, type SeasonForm as SeasonFieldsForm } from "../crops/SeasonFields";
import { DateLine } from "../form/DateLine";
import { Choice, Line } from "../form/Labelled";
import { problemsOf } from "../form/problems";
import { useSignedIn } from "../session/context";
import { useSaveSeason, useSeasons, useSee, useUnsee, type EventIn, type Season } from "./queries";
import { shownDay } from "../time/enteredDate";
import { t } from "./t";

/** The block's crop season: what was seen of it, and a place to say what is seen today. */
export function SeasonPanel({ block, today }: { block: number; today: string }) {
  const { farm, may } = useSignedIn();
  const seasons = useSeasons(farm.slug, block);
  const [open, setOpen] = useState<"new" | "edit" | null>(null);
  if (seasons.isPending) return null;
  if (seasons.error) return <Notice error={seasons.error} />;
  const season = seasons.data.find((s) => s.under_way);
  const others = seasons.data.filter((s) => !s.under_way);
  return (
    <Box as="section" aria-labelledby="season">
      <Heading as="h2" id="season" size="lg">
        {t("limits.cropSeason")}
      </Heading>
      {season ? (
        <>
          <Text>
            <b>{season.crop}</b>
            {t("limits.timedBy", {
              perennial: season.perennial ? "yes" : "no",
              plantedOn: shownDay(season.planted_on),
              clock: season.clock === "days" ? "yes" : "no",
            })}{" "}
            {may("set_up_ground") && (
              <>
                <LinkButton onClick={() => setOpen(open === "edit" ? null : "edit")}>
                  {t("limits.edit")}
                </LinkButton>{" "}
                {t("limits.or")}{" "}
                <LinkButton onClick={() => setOpen(open === "new" ? null : "new")}>
                  {t("limits.startTheNext")}
                </LinkButton>
              </>
            )}
          </Text>
          <Button asChild size="xs" variant="outline" my="1">
            <Link to={`/${farm.slug}/blocks/${block}/seasons`}>{t("limits.compareSeasons")}</Link>
          </Button>
          {open === null && <Seen season={season} block={block} today={today} />}
        </>
      ) : (
        <Text>
          {t("limits.noCrop")}{" "}
          {may("set_up_ground") && (
            <LinkButton onClick={() => setOpen("new")}>{t("limits.startASeason")}</LinkButton>
          )}
        </Text>
      )}
      {open && (
        <SeasonForm
          key={open}
          block={block}
          season={open === "edit" ? (season ?? null) : null}
          close={() => setOpen(null)}
        />
      )}
      {others.length > 0 && (
        <Text fontSize="xs" color="inkSoft" mt="2">
          {t("limits.also", {
            map: others
              .map((s) => t("limits.from", { crop: s.crop, plantedOn: shownDay(s.planted_on) }))
              .join("; "),
          })}
        </Text>
      )}
    </Box>
  );
}

interface FormProps {
  block: number;
  season: Season | null;
  close: () => void;
}

function SeasonForm({ block, season, close }: FormProps) {
  const { farm } = useSignedIn();
  const save = useSaveSeason(farm.slug, block, season?.id ?? null);
  const [form, setForm] = useState<SeasonFieldsForm>({
    crop: season?.crop_key ?? "",
    planted: season?.planted_on ?? "",
    clock: season?.clock ?? "days",
  });
  return (
    <Box mt="2" borderLeftWidth="3px" borderColor="rule" ps="3">
      <SeasonFields form={form} change={setForm} problems={problemsOf(save.error)} />
      {save.error && <Notice error={save.error} />}
      <Flex gap="2" mt="2">
        <Button
          size="sm"
          loading={save.isPending}
          onClick={() =>
            save.mutate(
              {
                crop_key: form.crop,
                planted_on: form.planted,
                clock: form.clock as NonNullable<Season["clock"]>,
              },
              { onSuccess: close },
            )
          }
        >
          {season ? t("limits.saveSeason") : t("limits.startSeason")}
        </Button>
        <Button size="sm" variant="ghost" onClick={close}>
          {t("limits.cancel")}
        </Button>
      </Flex>
    </Box>
  );
}

const num = (text: string) => Number(text.trim().replace(",", ".")) || null;

function Seen({ season, block, today }: { season: Season; block: number; today: string }) {
  const { farm, may } = useSignedIn();
  const see = useSee(farm.slug, block, season.id);
  const unsee = useUnsee(farm.slug, block, season.id);
  const [kind, setKind] = useState<EventIn["kind"]>("stage");
  const [stage, setStage] = useState("");
  const [on, setOn] = useState(today);
  const [cover, setCover] = useState("");
  const [height, setHeight] = useState("");
  const problems = problemsOf(see.error);
  return (
    <>
      {season.events.length > 0 && (
        <Table.Root size="sm" bg="transparent" mt="1" aria-label={t("limits.fieldObservation")}>
          <Table.Body>
            {season.events.map((e) => (
              <Table.Row key={e.id} bg="transparent">
                <Table.Cell px="0" whiteSpace="nowrap">
                  {shownDay(e.on)}
                </Table.Cell>
                <Table.Cell px="2">{e.label}</Table.Cell>
                <Table.Cell px="0" textAlign="end">
                  {may("record_readings") && (
                    <Button
                      size="2xs"
                      variant="ghost"
                      aria-label={t("limits.remove2", { label: e.label })}
                      onClick={() => unsee.mutate(e.id)}
                    >
                      {t("limits.remove")}
                    </Button>
                  )}
                </Table.Cell>
              </Table.Row>
            ))}
          </Table.Body>
        </Table.Root>
      )}
      {may("record_readings") && (
        <Box mt="2">
          <Grid templateColumns={{ base: "1fr 1fr", sm: "1fr 1.5fr 1fr" }} gap="2" alignItems="end">
            <Choice
              label={t("limits.fieldObservation")}
              value={kind}
              change={(k) => setKind(k as EventIn["kind"])}
              error={problems["kind"]}
            >
              <option value="stage">{t("limits.growthStage")}</option>
              {season.scales_with_cover && <option value="cover">{t("limits.groundCover")}</option>}
              {season.is_cut && <option value="cut">{t("limits.cutOrGrazed")}</option>}
            </Choice>
            {kind === "stage" && (
              <Choice
                label={t("limits.stage")}
                value={stage}
                change={setStage}
                error={problems["stage_key"]}
              >
                <option value="">{t("limits.chooseAStage")}</option>
                {season.stages.map((s) => (
                  <option key={s.key} value={s.key}>
                    {s.name}
                  </option>
                ))}
              </Choice>
            )}
            {kind === "cover" && (
              <Flex gap="2">
                <Line
                  label={t("limits.cover")}
                  unit="%"
                  numeric
                  value={cover}
                  change={setCover}
                  error={problems["cover"]}
                />
                <Line
                  label={t("limits.height")}
                  unit="m"
                  numeric
                  value={height}
                  change={setHeight}
                  error={problems["height_m"]}
                />
              </Flex>
            )}
            {kind === "cut" && <Box />}
            <DateLine label={t("limits.on")} value={on} change={setOn} error={problems["on"]} />
          </Grid>
          <Button
            size="sm"
            mt="2"
            loading={see.isPending}
            onClick={() =>
              see.mutate(
                {
                  kind,
                  on,
                  stage_key: kind === "stage" ? stage : "",
                  cover: kind === "cover" ? (num(cover) ?? 0) / 100 : null,
                  height_m: kind === "cover" ? num(height) : null,
                },
                { onSuccess: () => setStage("") },
              )
            }
          >
            {t("limits.record")}
          </Button>
          {(see.error ?? unsee.error) && <Notice error={see.error ?? unsee.error} />}
        </Box>
      )}
    </>
  );
}
