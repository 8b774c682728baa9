import { Button, Flex, Text } from "@chakra-ui/react";
import { useState } from "react";
import { Sheet } from "../app/Sheet";
import type { Textures } from "./queries";
import { t } from "./t";

interface Props {
  steps: Textures["by_hand"];
  take: (texture: string) => void;
  close: () => void;
}

/** Texturing by hand: ball, ribbon, grit; a step at a time. */
export function ByHand({ steps, take, close }: Props) {
  const [path, setPath] = useState<string[]>([steps[0]?.key ?? ""]);
  const step = steps.find((s) => s.key === path.at(-1));
  const footer = (
    <Button
      size="sm"
      variant="ghost"
      onClick={() => (path.length > 1 ? setPath(path.slice(0, -1)) : close())}
    >
      {path.length > 1 ? t("soils.backOneStep") : t("soils.close")}
    </Button>
  );
  return (
    <Sheet title={t("soils.textureByHand")} close={close} footer={footer}>
      <Text mb="3">{step?.ask}</Text>
      <Flex direction="column" gap="2">
        {step?.answers.map((a) => (
          <Button
            key={a.say}
            variant="outline"
            justifyContent="space-between"
            h="auto"
            py="2"
            whiteSpace="normal"
            textAlign="start"
            onClick={() => {
              if (a.texture) take(a.texture);
              else if (a.next_step) setPath([...path, a.next_step]);
            }}
          >
            <span>{a.say}</span>
            {a.texture && (
              <Text as="span" color="water" fontWeight="700" whiteSpace="nowrap">
                {t(`texture.${a.texture}`)}
              </Text>
            )}
          </Button>
        ))}
      </Flex>
      <Text fontSize="xs" color="inkSoft" mt="3">
        {t("soils.textureByFeelIsRightWithinAbout")}
      </Text>
    </Sheet>
  );
}
