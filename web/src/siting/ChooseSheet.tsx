import { Stack, Text } from "@chakra-ui/react";
import { useState } from "react";
import { Notice } from "../app/Notice";
import { FormSheet } from "../form/FormSheet";
import { Line } from "../form/Labelled";
import { problemsOf } from "../form/problems";
import { useSignedIn } from "../session/context";
import { useChooseSpot, type Siting } from "./queries";
import { t } from "./t";
import { PURPOSES } from "./words";

interface Props {
  block: number;
  at: [number, number];
  siting: Siting;
  close: () => void;
}

/** A person decides for a spot, and says why. */
export function ChooseSheet({ block, at, siting, close }: Props) {
  const { farm } = useSignedIn();
  const choose = useChooseSpot(farm.slug, block);
  const [name, setName] = useState(t("siting.spotNumber", { number: siting.chosen.length + 1 }));
  const [why, setWhy] = useState("");
  const problems = problemsOf(choose.error);
  return (
    <FormSheet
      title={t("siting.chooseThisSpot")}
      close={close}
      words={t("siting.saveSpot")}
      pending={choose.isPending}
      disabled={!name.trim() || !why.trim()}
      save={() =>
        choose.mutate({ longitude: at[0], latitude: at[1], name, why }, { onSuccess: close })
      }
    >
      <Stack gap="3">
        <Text fontSize="sm">
          {t("siting.standsFor", { purpose: PURPOSES[siting.settings.purpose ?? "block"] })}
        </Text>
        <Line
          label={t("siting.name")}
          value={name}
          change={setName}
          error={problems["name"]}
          required
        />
        <Line
          label={t("siting.why")}
          value={why}
          change={setWhy}
          error={problems["why"]}
          help={t("siting.whyHelp")}
          required
        />
        <Text fontSize="sm" color="inkSoft">
          {t("siting.cautionAuger")}
        </Text>
        {choose.error && <Notice error={choose.error} />}
      </Stack>
    </FormSheet>
  );
}
