import { Box, Button, Flex, Text } from "@chakra-ui/react";
import { useState } from "react";
import { Notice } from "../app/Notice";
import { FormSheet } from "../form/FormSheet";
import { Line } from "../form/Labelled";
import { problemsOf } from "../form/problems";
import { useSignedIn } from "../session/context";
import { forForm, measure, typed } from "../units/format";
import { useStateEt, type StatedEt } from "./queries";
import { t } from "./t";

const PARTS = ["low", "expected", "high"] as const;
type Part = (typeof PARTS)[number];
const NAMES: Record<Part, string> = {
  low: t("board.lowEt"),
  expected: t("board.expectedEt"),
  high: t("board.highEt"),
};

interface Props {
  et: StatedEt | null;
  ratio: number | null;
  slug: string;
  close: () => void;
}

/** States another ET0 for the days ahead, or goes back to the recorded weather. */
export default function EtDialog({ et, ratio: stated, slug, close }: Props) {
  const { units } = useSignedIn();
  const save = useStateEt(slug);
  const [text, setText] = useState<Record<Part, string>>(() => ({
    low: forForm(et?.low, units, "waterDay"),
    expected: forForm(et?.expected, units, "waterDay"),
    high: forForm(et?.high, units, "waterDay"),
  }));

  const problems = problemsOf(save.error);
  const [ratio, setRatio] = useState(stated === null ? "" : String(stated));

  function state(from: (part: Part) => number | null) {
    const body = {
      low: from("low"),
      expected: from("expected"),
      high: from("high"),
      alfalfa_ratio: typed(ratio, "metric", "water"),
    };
    save.mutate(body, { onSuccess: close });
  }

  return (
    <FormSheet
      title={t("board.referenceEtForTheDaysAhead")}
      close={close}
      save={() => state((part) => typed(text[part], units, "waterDay", et?.[part]))}
      words={t("board.saveEt")}
      pending={save.isPending}
      other={
        <Button variant="ghost" size="sm" onClick={() => state(() => null)}>
          {t("board.removeTheEntry")}
        </Button>
      }
    >
      <Text fontSize="sm" color="inkSoft" mb="4">
        {t("board.forTheGrassReferenceSurfaceEt0In", { label: measure(units, "waterDay").label })}
      </Text>
      <Flex gap="3">
        {PARTS.map((part) => (
          <Line
            key={part}
            label={NAMES[part]}
            numeric
            value={text[part]}
            change={(value) => setText({ ...text, [part]: value })}
            error={problems[part]}
          />
        ))}
      </Flex>
      <Box mt="4" maxW="260px">
        <Line
          label={t("board.ratioOfAlfalfaEtToGrassEt")}
          numeric
          placeholder={t("board.notEntered")}
          help={t("board.n10To15NeededOnly")}
          value={ratio}
          change={setRatio}
          error={problems["alfalfa_ratio"]}
        />
      </Box>
      {save.error && <Notice error={save.error} />}
    </FormSheet>
  );
}
