import { Box } from "@chakra-ui/react";

/** Why the last step of an import came to nothing. */
export function StepProblem({ text }: { text: string }) {
  if (text === "") return null;
  return (
    <Box role="alert" bg="bg.error" borderLeftWidth="3px" borderColor="rust" px="3" py="2" mb="3">
      {text}
    </Box>
  );
}
