import { Box, Button, Field, Flex, Heading, Input, Stack, Text } from "@chakra-ui/react";
import { useQuery } from "@tanstack/react-query";
import { useState, type SyntheticEvent } from "react";
import { Link, useLocation, useNavigate } from "react-router";
import { answered, client } from "../api/client";
import { Loading } from "../app/Loading";
import { Notice } from "../app/Notice";
import { problemsOf } from "../form/problems";
import { useAcceptInvitation, useSession } from "../session/queries";
import { useTheme } from "../theme/useTheme";
import { t } from "./t";

/** Where an invitation leads: its person chooses a password and is signed in. */
export function JoinPage() {
  useTheme("system");
  const token = useLocation().hash.slice(1);
  // Its answer brings the token against forged requests that the two calls here need.
  const session = useSession();
  const invited = useQuery({
    queryKey: ["invitation", token],
    queryFn: () => answered(client.POST("/api/invitation", { body: { token } })),
    enabled: token !== "" && session.isSuccess,
    retry: false,
  });
  return (
    <Flex minH="100vh" align="center" justify="center" p="6">
      <Box as="main" w="100%" maxW="400px">
        {!token && (
          <>
            <Heading as="h1" size="2xl">
              {t("people.evenFurrow")}
            </Heading>
            <Text my="4">{t("people.noLink")}</Text>
          </>
        )}
        {token && invited.isPending && <Loading what={t("people.checkingTheLink")} />}
        {invited.error && (
          <>
            <Heading as="h1" size="2xl">
              {t("people.evenFurrow")}
            </Heading>
            <Notice error={invited.error} />
          </>
        )}
        {invited.data && <ChoosePassword token={token} {...invited.data} />}
        {(!token || invited.error) && (
          <Box mt="4">
            <Link to="/">{t("people.toSignIn")}</Link>
          </Box>
        )}
      </Box>
    </Flex>
  );
}

interface Invited {
  token: string;
  name: string;
  email: string;
  farms: string[];
}

function ChoosePassword({ token, name, email, farms }: Invited) {
  const accept = useAcceptInvitation();
  const navigate = useNavigate();
  const [password, setPassword] = useState("");
  const problem = problemsOf(accept.error)["password"];
  function submit(event: SyntheticEvent) {
    event.preventDefault();
    accept.mutate({ token, password }, { onSuccess: () => void navigate("/", { replace: true }) });
  }
  return (
    <form onSubmit={submit}>
      <Heading as="h1" size="2xl" fontWeight="700">
        {t("people.joinTitle", { name })}
      </Heading>
      <Text mt="2" mb="5">
        {t("people.joinText", { farms: farms.join(", "), email })}
      </Text>
      <Stack gap="4">
        {/* For the browser's password store, which keeps a name with each password. */}
        <input type="email" autoComplete="username" value={email} readOnly hidden />
        <Field.Root required invalid={Boolean(problem)}>
          <Field.Label>{t("people.password")}</Field.Label>
          <Input
            type="password"
            autoComplete="new-password"
            value={password}
            onChange={(e) => setPassword(e.target.value)}
          />
          {!problem && <Field.HelperText>{t("people.passwordHelp")}</Field.HelperText>}
          <Field.ErrorText>{problem}</Field.ErrorText>
        </Field.Root>
        {accept.error && !problem && <Notice error={accept.error} />}
        <Button type="submit" loading={accept.isPending}>
          {t("people.join")}
        </Button>
      </Stack>
    </form>
  );
}
