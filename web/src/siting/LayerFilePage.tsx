import { Box, Button, Flex, Heading, Progress, Table, Text } from "@chakra-ui/react";
import { useState } from "react";
import { Link, useNavigate, useParams } from "react-router";
import { Loading } from "../app/Loading";
import { Notice } from "../app/Notice";
import { RemoveButton } from "../form/RemoveButton";
import { useSignedIn } from "../session/context";
import { count, number } from "../units/format";
import {
  isAtWork,
  useLayerFile,
  useLayerFileStep,
  type LayerFile,
  type LayerFileDetail,
  type LayerLook,
  type LayerReading,
} from "./queries";
import { FILE_STATES } from "./fileStates";
import { ReadingFields } from "./ReadingFields";
import { t } from "./t";

/** A file of points or a grid: how it is read, where it lies, its layers made or taken back. */
export function LayerFilePage() {
  const { farm } = useSignedIn();
  const id = Number(useParams().file);
  const found = useLayerFile(farm.slug, id);
  if (found.error) return <Notice error={found.error} retry={() => void found.refetch()} />;
  if (found.isPending) return <Loading what={t("siting.loadingFile")} />;
  const { summary } = found.data;
  return (
    <Box maxW="1100px">
      <Text fontSize="sm" color="inkSoft">
        <Link to={`/${farm.slug}/farm/siting`}>{t("siting.siting")}</Link>
      </Text>
      <Flex align="baseline" gap="4" wrap="wrap" mb="3">
        <Heading as="h1" size="2xl" fontWeight="700">
          {summary.file_name}
        </Heading>
        <Text color="inkSoft" role="status">
          {FILE_STATES[summary.state]}
        </Text>
      </Flex>
      {summary.problem && (
        <Text color="rust" mb="3" role="alert">
          {summary.problem}
        </Text>
      )}
      {isAtWork(summary) && <AtWork summary={summary} />}
      <Detail key={`${id}-${summary.state}`} detail={found.data} />
    </Box>
  );
}

function AtWork({ summary }: { summary: LayerFile }) {
  return (
    <Box maxW="420px" my="3">
      <Progress.Root
        value={summary.total ? summary.done : null}
        max={Math.max(summary.total, 1)}
        size="sm"
        aria-label={FILE_STATES[summary.state]}
      >
        <Progress.Track>
          <Progress.Range />
        </Progress.Track>
      </Progress.Root>
      {summary.total > 0 && (
        <Text fontSize="sm" color="inkSoft">
          {t("siting.blocksDone", { done: summary.done, total: summary.total })}
        </Text>
      )}
    </Box>
  );
}

function Detail({ detail }: { detail: LayerFileDetail }) {
  const { farm, may } = useSignedIn();
  const { summary, look } = detail;
  const [reading, setReading] = useState<LayerReading | null>(detail.reading);
  const { read, store, remove } = useLayerFileStep(farm.slug, summary.id);
  const navigate = useNavigate();
  const editable = may("set_up_ground") && summary.state === "looked";
  const changed = JSON.stringify(reading) !== JSON.stringify(detail.reading);
  return (
    <>
      {look && reading && summary.state !== "stored" && (
        <>
          <Where look={look} used={detail.reading?.projection ?? ""} />
          <ReadingFields
            reading={reading}
            headings={look.headings}
            projection={look.projection}
            placed={look.placed ?? true}
            change={setReading}
            error={read.error ?? store.error}
            fixed={!editable}
          />
          <FirstRows look={look} />
        </>
      )}
      {summary.report && <Report summary={summary} />}
      {read.error && <Notice error={read.error} />}
      {store.error && <Notice error={store.error} />}
      {remove.error && <Notice error={remove.error} />}
      <Flex gap="3" mt="5" wrap="wrap" align="center">
        {editable && reading && changed && (
          <Button size="sm" loading={read.isPending} onClick={() => read.mutate(reading)}>
            {t("siting.readThisWay")}
          </Button>
        )}
        {editable && !changed && (
          <Button
            size="sm"
            loading={store.isPending}
            disabled={Boolean(look?.problem)}
            onClick={() => store.mutate()}
          >
            {t("siting.storeLayers")}
          </Button>
        )}
        {may("set_up_ground") && !isAtWork(summary) && (
          <RemoveButton
            words={summary.state === "stored" ? t("siting.undoImport") : t("siting.deleteFile")}
            pending={remove.isPending}
            press={() =>
              remove.mutate(undefined, {
                onSuccess: () => void navigate(`/${farm.slug}/farm/siting`),
              })
            }
          />
        )}
      </Flex>
    </>
  );
}

/** Where the points lie in the projection used, and whether that can be. */
function Where({ look, used }: { look: LayerLook; used: string }) {
  const fitting = look.fitting ?? "";
  const other =
    fitting === "" || fitting === used ? null : t("siting.otherFits", { code: fitting });
  if (look.problem)
    return (
      <Text color="rust" mb="3" role="alert">
        {look.problem} {other}
      </Text>
    );
  const away = look.away_km ?? 0;
  const swapped = look.swapped_km !== null && look.swapped_km < 1;
  return (
    <Text mb="3" color={away > 1 ? "rust" : undefined}>
      {look.near === ""
        ? t("siting.noOutlines")
        : away > 1
          ? t("siting.farAway", { away: number(away, 0), block: look.near })
          : t("siting.liesAt", { block: look.near })}
      {away > 1 && swapped && ` ${t("siting.axesSwapped")}`}
      {other !== null && ` ${other}`}
      {fitting !== "" &&
        other === null &&
        ` ${t("siting.projectionGuessed", { name: look.projection, code: fitting })}`}
      {look.low !== null &&
        ` ${t("siting.valuesBetween", { low: number(look.low, 2), high: number(look.high, 2) })}`}
    </Text>
  );
}

function FirstRows({ look }: { look: LayerLook }) {
  return (
    <Table.ScrollArea tabIndex={0} mt="4">
      <Table.Root size="sm" bg="transparent">
        <Table.Header>
          <Table.Row bg="transparent">
            {look.headings.map((h) => (
              <Table.ColumnHeader key={h}>{h}</Table.ColumnHeader>
            ))}
          </Table.Row>
        </Table.Header>
        <Table.Body>
          {look.rows.map((row, i) => (
            // oxlint-disable-next-line react/no-array-index-key
            <Table.Row key={i} bg="transparent">
              {look.headings.map((h, k) => (
                <Table.Cell key={h}>{row[k]}</Table.Cell>
              ))}
            </Table.Row>
          ))}
        </Table.Body>
      </Table.Root>
    </Table.ScrollArea>
  );
}

function Report({ summary }: { summary: LayerFile }) {
  const { report } = summary;
  if (!report) return null;
  return (
    <Box mt="4">
      <Text>{t("siting.pointsRead", { count: report.points })}</Text>
      {report.without_position > 0 && (
        <Text>{t("siting.withoutPosition", { count: report.without_position })}</Text>
      )}
      <Box as="ul" ps="5" listStyleType="disc">
        {report.blocks.map((b) => (
          <li key={b.block}>
            {b.problem || t("siting.pointsIn", { block: b.block, points: count(b.points) })}
          </li>
        ))}
      </Box>
    </Box>
  );
}
