import { Box, Flex, Slider, Text } from "@chakra-ui/react";

interface Props {
  label: string;
  value: number;
  change: (value: number) => void;
  min: number;
  max: number;
  step: number;
  /** The value in words. */
  words: string;
  disabled?: boolean;
}

/** A figure to be dragged, told in words beside it. */
export function Slide({ label, value, change, min, max, step, words, disabled = false }: Props) {
  return (
    <Box opacity={disabled ? 0.5 : 1}>
      <Flex justify="space-between" gap="3" fontSize="sm">
        <Text>{label}</Text>
        <Text fontWeight="650">{words}</Text>
      </Flex>
      <Slider.Root
        size="sm"
        min={min}
        max={max}
        step={step}
        disabled={disabled}
        value={[value]}
        aria-label={[label]}
        onValueChange={(e) => change(e.value[0] ?? value)}
      >
        <Slider.Control>
          <Slider.Track bg="rule">
            <Slider.Range />
          </Slider.Track>
          <Slider.Thumb index={0} aria-valuetext={words} />
        </Slider.Control>
      </Slider.Root>
    </Box>
  );
}
