import { Box, Table, Text } from "@chakra-ui/react";
import { Link } from "react-router";
import { Loading } from "../app/Loading";
import { Notice } from "../app/Notice";
import { BehindInstruments } from "../instruments/BehindInstruments";
import { useSignedIn } from "../session/context";
import { useFarmTime } from "../time/useFarmTime";
import { useImports, type FileImport } from "./queries";
import { count } from "../units/format";
import { UploadFile } from "./UploadFile";
import { t } from "./t";

const STATES: Record<FileImport["state"], string> = {
  reading: t("imports.readingTheFirstRows"),
  ready: t("imports.notCheckedYet"),
  checking: t("imports.reading"),
  checked: t("imports.checkedNotImported"),
  storing: t("imports.importing"),
  stored: t("imports.imported"),
  undoing: t("imports.undoing"),
  undone: t("imports.undone"),
  failed: t("imports.failed"),
};

/** Files of loggers, from upload to readings. */
export function FileList() {
  const { farm, may } = useSignedIn();
  const files = useImports(farm.slug);
  const time = useFarmTime();
  if (files.error) return <Notice error={files.error} retry={() => void files.refetch()} />;
  if (files.isPending || !time) return <Loading what={t("imports.loadingTheFiles")} />;
  return (
    <Box maxW="1240px">
      <BehindInstruments
        title={t("imports.files")}
        action={may("record_readings") && <UploadFile instrument={null} />}
      >
        {t("imports.tablesFromLoggersCsvTabSeparatedText")}
      </BehindInstruments>
      {files.data.length === 0 ? (
        <Text py="6">{t("imports.noFileHasBeenImportedYet")}</Text>
      ) : (
        <Table.ScrollArea tabIndex={0}>
          <Table.Root size="sm" bg="transparent">
            <Table.Header>
              <Table.Row bg="transparent">
                <Table.ColumnHeader px="0">{t("imports.file")}</Table.ColumnHeader>
                <Table.ColumnHeader>{t("imports.state")}</Table.ColumnHeader>
                <Table.ColumnHeader>{t("imports.by")}</Table.ColumnHeader>
                <Table.ColumnHeader textAlign="end">{t("imports.new")}</Table.ColumnHeader>
                <Table.ColumnHeader textAlign="end">{t("imports.changed")}</Table.ColumnHeader>
                <Table.ColumnHeader textAlign="end">{t("imports.rejected")}</Table.ColumnHeader>
              </Table.Row>
            </Table.Header>
            <Table.Body>
              {files.data.map((f) => (
                <Table.Row key={f.id} bg="transparent">
                  <Table.Cell px="0" fontWeight="600">
                    <Link to={`/${farm.slug}/files/${f.id}`}>{f.file_name}</Link>
                  </Table.Cell>
                  <Table.Cell color={f.problem ? "rust" : undefined}>
                    {f.state === "failed" && f.report === null
                      ? t("imports.couldNotBeRead")
                      : STATES[f.state]}
                  </Table.Cell>
                  <Table.Cell>{f.made_by}</Table.Cell>
                  <Table.Cell textAlign="end">{f.report ? count(f.report.new) : "–"}</Table.Cell>
                  <Table.Cell textAlign="end">
                    {f.report ? count(f.report.changed) : "–"}
                  </Table.Cell>
                  <Table.Cell textAlign="end">
                    {f.report ? count(f.report.refused_count) : "–"}
                  </Table.Cell>
                </Table.Row>
              ))}
            </Table.Body>
          </Table.Root>
        </Table.ScrollArea>
      )}
    </Box>
  );
}
