import { Box, Button, Field, Flex, Heading, Input, Stack, Text } from "@chakra-ui/react";
import { useState, type SyntheticEvent } from "react";
import { LinkButton } from "../app/LinkButton";
import { Notice } from "../app/Notice";
import { useDemoSignIn, useSignIn, type Role } from "./queries";
import { t } from "./t";

const OTHERS: { role: Role; label: string }[] = [
  { role: "irrigator", label: t("role.irrigator") },
  { role: "scout", label: t("role.scout") },
  { role: "adviser", label: t("role.adviser") },
  { role: "viewer", label: t("role.viewer") },
];

export function SignIn({ demo }: { demo: boolean }) {
  const signIn = useSignIn();
  const demoSignIn = useDemoSignIn();
  const [email, setEmail] = useState("");
  const [password, setPassword] = useState("");

  function submit(event: SyntheticEvent) {
    event.preventDefault();
    signIn.mutate({ email, password });
  }

  return (
    <Flex minH="100vh" align="center" justify="center" p="6">
      <Box w="100%" maxW="400px">
        <Heading as="h1" size="3xl" fontWeight="700">
          {t("session.evenFurrow")}
        </Heading>
        <Text color="inkSoft" mt="1" mb="6">
          {t("session.whichBlocksNeedWaterWhenAndFor")}
        </Text>
        {demo && (
          <Box borderTopWidth="2px" borderColor="water" bg="sheet" p="5" mb="6">
            <Heading as="h2" size="md">
              {t("session.demoFarmSimulated")}
            </Heading>
            <Text color="inkSoft" fontSize="sm" mt="1" mb="3">
              {t("session.inventedPeoplePlacesAndReadingsOne")}
            </Text>
            <Button
              w="100%"
              loading={demoSignIn.isPending}
              onClick={() => demoSignIn.mutate("manager")}
            >
              {t("session.signInAsTheDemoManager")}
            </Button>
            <Text fontSize="sm" mt="3" color="inkSoft">
              {t("session.orAs")}{" "}
              {OTHERS.map(({ role, label }, i) => (
                <span key={role}>
                  {i > 0 && ", "}
                  <LinkButton onClick={() => demoSignIn.mutate(role)}>{label}</LinkButton>
                </span>
              ))}
            </Text>
            {demoSignIn.error && <Notice error={demoSignIn.error} />}
          </Box>
        )}
        <form onSubmit={submit}>
          <Stack gap="4">
            <Field.Root required>
              <Field.Label>{t("session.eMail")}</Field.Label>
              <Input
                type="email"
                autoComplete="username"
                value={email}
                onChange={(e) => setEmail(e.target.value)}
              />
            </Field.Root>
            <Field.Root required>
              <Field.Label>{t("session.password")}</Field.Label>
              <Input
                type="password"
                autoComplete="current-password"
                value={password}
                onChange={(e) => setPassword(e.target.value)}
              />
            </Field.Root>
            {signIn.error && <Notice error={signIn.error} />}
            <Button type="submit" variant="outline" loading={signIn.isPending}>
              {t("session.signIn")}
            </Button>
          </Stack>
        </form>
      </Box>
    </Flex>
  );
}
