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

const STATES: Record<FileImport["state"], string> = {
  reading: "first rows being read",
  ready: "not checked yet",
  checking: "being read",
  checked: "checked, not brought in",
  storing: "being brought in",
  stored: "brought in",
  undoing: "being taken back",
  undone: "taken back",
  failed: "broke off",
};

/** Files of loggers, from upload to readings. */
export function FileList() {
  const { farm, may } = useSignedIn();
  const files = useImports(farm.slug);
  const time = useFarmTime();
  if (files.error) return <Notice error={files.error} retry={() => void files.refetch()} />;
  if (files.isPending || !time) return <Loading what="Looking through the files" />;
  return (
    <Box maxW="1240px">
      <BehindInstruments
        title="Files"
        action={may("record_readings") && <UploadFile instrument={null} />}
      >
        Tables from loggers: CSV, tab-separated text or a workbook, in any sensible shape. You see
        how a file is read, then what it would bring, before anything is stored. A file that is not
        stored is removed after 30 days.
      </BehindInstruments>
      {files.data.length === 0 ? (
        <Text py="6">No file was brought in yet.</Text>
      ) : (
        <Table.ScrollArea>
          <Table.Root size="sm" bg="transparent">
            <Table.Header>
              <Table.Row bg="transparent">
                <Table.ColumnHeader px="0">File</Table.ColumnHeader>
                <Table.ColumnHeader>State</Table.ColumnHeader>
                <Table.ColumnHeader>By</Table.ColumnHeader>
                <Table.ColumnHeader textAlign="end">New</Table.ColumnHeader>
                <Table.ColumnHeader textAlign="end">Changed</Table.ColumnHeader>
                <Table.ColumnHeader textAlign="end">Refused</Table.ColumnHeader>
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
                      ? "could not be read"
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
