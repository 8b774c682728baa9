import { Box, Heading, Table, Text } from "@chakra-ui/react";
import { Link, useNavigate } from "react-router";
import { Loading } from "../app/Loading";
import { Notice } from "../app/Notice";
import { FileButton } from "../form/FileButton";
import { useSignedIn } from "../session/context";
import { shownDay } from "../time/enteredDate";
import { count } from "../units/format";
import { CoverTable } from "./CoverTable";
import { RainYears } from "./RainYears";
import { SpotList } from "./SpotList";
import { useCover, useLayerFiles, useUploadLayer } from "./queries";
import { FILE_STATES } from "./fileStates";
import { t } from "./t";

/** Blocks to site probes in, and the files that their layers come from. */
export function SitingOverview() {
  const { farm, may } = useSignedIn();
  const cover = useCover(farm.slug);
  const files = useLayerFiles(farm.slug);
  const upload = useUploadLayer(farm.slug);
  const navigate = useNavigate();
  const error = cover.error ?? files.error;
  if (error) return <Notice error={error} retry={() => void files.refetch()} />;
  if (!cover.data || !files.data) return <Loading what={t("siting.loadingLayers")} />;
  return (
    <Box maxW="1240px">
      <Text maxW="75ch">{t("siting.overview")}</Text>
      {may("set_up_ground") && (
        <Box mt="4">
          <FileButton
            accept=".csv,.tsv,.txt,.zip,.geojson,.json,.tif,.tiff,.asc,.png,.jpg,.jpeg"
            file={null}
            label={t("siting.importALayer")}
            choose={(file) =>
              upload.mutate(file, {
                onSuccess: (row) => void navigate(`/${farm.slug}/layer-files/${row.id}`),
              })
            }
          />
          {upload.isPending && (
            <Text color="inkSoft" fontSize="sm" role="status">
              {t("siting.uploading")}
            </Text>
          )}
          {upload.error && <Notice error={upload.error} />}
        </Box>
      )}
      <CoverTable cover={cover.data} />
      <SpotList spots={cover.data.spots} />
      <Heading as="h2" size="md" mt="6">
        {t("siting.layerFiles")}
      </Heading>
      {files.data.length === 0 ? (
        <Text>{t("siting.noFiles")}</Text>
      ) : (
        <Table.ScrollArea tabIndex={0}>
          <Table.Root size="sm" bg="transparent">
            <Table.Header>
              <Table.Row bg="transparent">
                <Table.ColumnHeader px="0">{t("siting.file")}</Table.ColumnHeader>
                <Table.ColumnHeader>{t("siting.state")}</Table.ColumnHeader>
                <Table.ColumnHeader textAlign="end">{t("siting.points")}</Table.ColumnHeader>
                <Table.ColumnHeader>{t("siting.blocks")}</Table.ColumnHeader>
                <Table.ColumnHeader>{t("siting.uploaded")}</Table.ColumnHeader>
              </Table.Row>
            </Table.Header>
            <Table.Body>
              {files.data.map((f) => (
                <Table.Row key={f.id} bg="transparent">
                  <Table.Cell px="0" fontWeight="600">
                    <Link to={`/${farm.slug}/layer-files/${f.id}`}>{f.file_name}</Link>
                  </Table.Cell>
                  <Table.Cell color={f.problem ? "rust" : undefined}>
                    {FILE_STATES[f.state]}
                  </Table.Cell>
                  <Table.Cell textAlign="end">{f.report ? count(f.report.points) : "–"}</Table.Cell>
                  <Table.Cell>
                    {(f.report?.blocks ?? [])
                      .filter((b) => b.points > 0)
                      .map((b) => b.block)
                      .join(", ") || "–"}
                  </Table.Cell>
                  <Table.Cell>{shownDay(f.made_at.slice(0, 10))}</Table.Cell>
                </Table.Row>
              ))}
            </Table.Body>
          </Table.Root>
        </Table.ScrollArea>
      )}
      <RainYears />
    </Box>
  );
}
