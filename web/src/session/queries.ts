import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { answered, client, keepToken, type Schemas } from "../api/client";

export type Session = Schemas["SessionOut"];
export type FarmRef = Schemas["FarmRef"];
export type Role = Schemas["Role"];
export type Action = Schemas["Action"];

export const SESSION = ["session"];

async function kept(call: Promise<Session>): Promise<Session> {
  const session = await call;
  keepToken(session.csrf_token);
  return session;
}

export function useSession() {
  return useQuery({
    queryKey: SESSION,
    queryFn: () => kept(answered(client.GET("/api/session"))),
    staleTime: Infinity,
    networkMode: "always",
  });
}

/** A change of session; the answer is the new session. */
function useSessionChange<Input>(change: (input: Input) => Promise<Session>) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (input: Input) => kept(change(input)),
    onSuccess: (session) => queries.setQueryData(SESSION, session),
  });
}

export function useSignIn() {
  return useSessionChange((body: Schemas["SignIn"]) =>
    answered(client.POST("/api/session", { body })),
  );
}

export function useDemoSignIn() {
  return useSessionChange((role: Role) =>
    answered(client.POST("/api/session/demo", { body: { role } })),
  );
}

export function useAcceptInvitation() {
  return useSessionChange((body: Schemas["JoinIn"]) =>
    answered(client.POST("/api/invitation/accept", { body })),
  );
}

export function useChangePassword() {
  return useSessionChange((body: Schemas["PasswordIn"]) =>
    answered(client.PUT("/api/me/password", { body })),
  );
}

export function useSignOut() {
  return useMutation({
    mutationFn: () => answered(client.DELETE("/api/session")),
    // A fresh page: nothing of one person's farm may be left in memory for the next.
    onSuccess: async () => {
      if ("caches" in window) await caches.delete("field");
      window.location.assign("/");
    },
  });
}

export function usePreferences() {
  return useSessionChange((body: Schemas["Preferences"]) =>
    answered(client.PATCH("/api/me", { body })),
  );
}
