import { Box, Flex, Heading, Text } from "@chakra-ui/react";
import { useState } from "react";
import { Link, useParams } from "react-router";
import { Loading } from "../app/Loading";
import { Notice } from "../app/Notice";
import { useWidth } from "../draw/useWidth";
import { Choice } from "../form/Labelled";
import { Tick } from "../form/Tick";
import { useSeasons } from "../limits/queries";
import { useSignedIn } from "../session/context";
import type { LaidBy } from "./laid";
import { useCourses, type Course } from "./queries";
import { SeasonsPlot } from "./SeasonsPlot";
import { SeasonSums } from "./SeasonSums";
import { t } from "./t";

const WAYS: { value: LaidBy; label: string }[] = [
  { value: "date", label: t("seasons.byDate") },
  { value: "days", label: t("seasons.byDays") },
  { value: "warmth", label: t("seasons.byWarmth") },
];
/** So many are laid over each other to begin with. */
const AT_FIRST = 2;

/** A block's seasons over each other: how full the soil was, and what each took. */
export function SeasonsPage() {
  const { block: param } = useParams();
  const id = Number(param);
  const { farm, units } = useSignedIn();
  const seasons = useSeasons(farm.slug, id);
  const [picked, setPicked] = useState<number[] | null>(null);
  const [by, setBy] = useState<LaidBy>("date");
  const [alike, setAlike] = useState(true);
  const [measure, width] = useWidth();
  const all = seasons.data ?? [];
  const chosen = picked ?? all.slice(0, AT_FIRST).map((s) => s.id);
  // In the order of the list, whichever was chosen first.
  const shown = all.filter((s) => chosen.includes(s.id)).map((s) => s.id);
  const found = useCourses(farm.slug, id, shown);
  if (seasons.isPending) return <Loading what={t("seasons.loading")} />;
  if (seasons.error) return <Notice error={seasons.error} retry={() => void seasons.refetch()} />;
  const courses = found.map((f) => f.data).filter((c): c is Course => c !== undefined);
  const failed = found.filter((f) => f.error);
  const cold = by === "warmth" && courses.some((c) => c.degree_days === null);
  return (
    <Box maxW="1400px">
      <Text fontSize="sm" color="inkSoft">
        <Link to={`/${farm.slug}/blocks/${id}`}>← {t("seasons.backToBlock")}</Link>
      </Text>
      <Heading as="h1" size="2xl" fontWeight="700">
        {courses[0] ? t("seasons.seasonsOf", { name: courses[0].block }) : t("seasons.seasons")}
      </Heading>
      {all.length === 0 && <Text mt="3">{t("seasons.noSeason")}</Text>}
      <Flex gap="6" wrap="wrap" mt="3" align="center">
        <Flex as="fieldset" gap="4" wrap="wrap" border="none">
          <Text as="legend" srOnly>
            {t("seasons.seasonsShown")}
          </Text>
          {all.map((s) => (
            <Tick
              key={s.id}
              label={t("seasons.seasonName", { crop: s.crop, year: s.planted_on.slice(0, 4) })}
              on={chosen.includes(s.id)}
              change={(on) =>
                setPicked(on ? [...chosen, s.id] : chosen.filter((one) => one !== s.id))
              }
            />
          ))}
        </Flex>
        <Box w="240px" maxW="100%">
          <Choice label={t("seasons.alignBy")} value={by} change={(way) => setBy(way as LaidBy)}>
            {WAYS.map((way) => (
              <option key={way.value} value={way.value}>
                {way.label}
              </option>
            ))}
          </Choice>
        </Box>
      </Flex>
      {failed.map((f, k) => (
        // Of which season it is, the error says.
        <Notice key={k} error={f.error} retry={() => void f.refetch()} />
      ))}
      {cold && <Text mt="2">{t("seasons.noWarmth")}</Text>}
      <Box ref={measure} mt="3">
        {found.some((f) => f.isPending) && <Loading what={t("seasons.loading")} />}
        {width > 0 && courses.length > 0 && <SeasonsPlot courses={courses} by={by} width={width} />}
      </Box>
      {all.length > 0 && shown.length === 0 && <Text mt="3">{t("seasons.noneChosen")}</Text>}
      {courses.length > 1 && (
        <Box mt="4">
          <Tick label={t("seasons.alike")} on={alike} change={setAlike} />
        </Box>
      )}
      {courses.length > 0 && (
        <SeasonSums courses={courses} units={units} alike={alike && courses.length > 1} />
      )}
    </Box>
  );
}
