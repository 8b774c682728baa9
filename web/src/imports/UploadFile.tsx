import { Box, Text } from "@chakra-ui/react";
import { useState } from "react";
import { useNavigate } from "react-router";
import { Notice } from "../app/Notice";
import { FileButton } from "../form/FileButton";
import { useSignedIn } from "../session/context";
import { useUpload } from "./queries";
import { t } from "./t";

/** Takes a logger's file to the detail; ``instrument`` says whose it is, when that is known. */
export function UploadFile({ instrument }: { instrument: number | null }) {
  const { farm } = useSignedIn();
  const upload = useUpload(farm.slug);
  const navigate = useNavigate();
  const [file, setFile] = useState<File | null>(null);
  return (
    <Box>
      <FileButton
        accept=".csv,.tsv,.txt,.dat,.xlsx,text/csv"
        sample="readings.csv"
        file={file}
        label={t("imports.importAFile")}
        choose={(next) => {
          setFile(next);
          upload.mutate(
            { file: next, instrument },
            { onSuccess: (row) => void navigate(`/${farm.slug}/files/${row.id}`) },
          );
        }}
      />
      {upload.isPending && (
        <Text color="inkSoft" fontSize="sm" role="status">
          {t("imports.uploadingTheFile")}
        </Text>
      )}
      {upload.error && <Notice error={upload.error} />}
    </Box>
  );
}
