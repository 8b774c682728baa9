import { useMutation, useMutationState, useQuery, useQueryClient } from "@tanstack/react-query";
import { answered, client, type Schemas } from "../api/client";
import { SESSION } from "../session/queries";

export type Valves = Schemas["ValvesOut"];
export type Valve = Schemas["ValveOut"];
export type Controller = Schemas["ControllerOut"];
export type ValveAlarm = Schemas["ValveAlarmOut"];
export type ValveEntry = Schemas["ValveEntryOut"];
export type Prepared = Schemas["PreparedOut"];
export type FlowFault = Schemas["FlowFault"];
export type ToOpen = Schemas["ToOpenOut"];

const key = (slug: string) => ["farm", slug, "valves"];
// Where valves are shown, or open: nearly as often as controllers ask. Elsewhere less often.
const EVERY_MS = 3_000;
const SELDOM_MS = 10_000;

export function useValves(slug: string) {
  return useQuery({
    queryKey: [...key(slug), "all"],
    queryFn: () => answered(client.GET("/api/farms/{slug}/valves", { params: { path: { slug } } })),
    refetchInterval: EVERY_MS,
  });
}

/** The emergency stop, what is open and what is wrong, for every screen. */
export function useValveWatch(slug: string) {
  return useQuery({
    queryKey: [...key(slug), "watch"],
    queryFn: () =>
      answered(client.GET("/api/farms/{slug}/valves/watch", { params: { path: { slug } } })),
    refetchInterval: ({ state: { data } }) =>
      data && (data.open > 0 || data.stop !== null) ? EVERY_MS : SELDOM_MS,
  });
}

/** Something asked of the valves, or of how they are set up. */
function useValveChange<Input, Output>(slug: string, change: (input: Input) => Promise<Output>) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: change,
    onSettled: () => queries.invalidateQueries({ queryKey: key(slug) }),
  });
}

const STOP = ["valves", "stop"];

/** Closes every valve; tried at once, also where the browser believes that it has no signal. */
export function useStop(slug: string) {
  const queries = useQueryClient();
  return useMutation({
    mutationKey: STOP,
    networkMode: "always",
    mutationFn: () =>
      answered(client.POST("/api/farms/{slug}/valves/stop", { params: { path: { slug } } })),
    onSettled: () => queries.invalidateQueries({ queryKey: key(slug) }),
  });
}

/** Whether the last press on the emergency stop reached nobody, wherever on the page it was. */
export function useStopFailed(): boolean {
  const states = useMutationState({
    filters: { mutationKey: STOP },
    select: (mutation) => mutation.state.status,
  });
  return states.at(-1) === "error";
}

export function useRelease(slug: string) {
  return useValveChange(slug, () =>
    answered(client.DELETE("/api/farms/{slug}/valves/stop", { params: { path: { slug } } })),
  );
}

export function useSwitch(slug: string) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (body: Schemas["SwitchIn"]) =>
      answered(client.PUT("/api/farms/{slug}/valves/switch", { params: { path: { slug } }, body })),
    onSuccess: async () => {
      // The emergency stop is on every screen, or on none.
      await queries.invalidateQueries({ queryKey: SESSION });
      await queries.invalidateQueries({ queryKey: key(slug) });
    },
  });
}

export function usePrepare(slug: string) {
  return useValveChange(slug, ({ valve, ...body }: Schemas["OpenIn"] & { valve: number }) =>
    answered(
      client.POST("/api/farms/{slug}/valves/{valve_id}/openings", {
        params: { path: { slug, valve_id: valve } },
        body,
      }),
    ),
  );
}

export function useConfirmOpening(slug: string) {
  return useValveChange(slug, (command: number) =>
    answered(
      client.POST("/api/farms/{slug}/valves/openings/{command_id}/confirm", {
        params: { path: { slug, command_id: command } },
      }),
    ),
  );
}

export function useClose(slug: string) {
  return useValveChange(slug, (valve: number) =>
    answered(
      client.POST("/api/farms/{slug}/valves/{valve_id}/close", {
        params: { path: { slug, valve_id: valve } },
      }),
    ),
  );
}

export function useConfirmAlarm(slug: string) {
  return useValveChange(slug, (alarm: number) =>
    answered(
      client.POST("/api/farms/{slug}/valves/alarms/{alarm_id}/confirm", {
        params: { path: { slug, alarm_id: alarm } },
      }),
    ),
  );
}

export function useSaveValve(slug: string, valve: number | null) {
  return useValveChange(slug, (body: Schemas["ValveIn"]) =>
    answered(
      valve === null
        ? client.POST("/api/farms/{slug}/valves", { params: { path: { slug } }, body })
        : client.PUT("/api/farms/{slug}/valves/{valve_id}", {
            params: { path: { slug, valve_id: valve } },
            body,
          }),
    ),
  );
}

export function useRemoveValve(slug: string) {
  return useValveChange(slug, (valve: number) =>
    answered(
      client.DELETE("/api/farms/{slug}/valves/{valve_id}", {
        params: { path: { slug, valve_id: valve } },
      }),
    ),
  );
}

export function useAddController(slug: string) {
  return useValveChange(slug, (body: Schemas["ControllerIn"]) =>
    answered(
      client.POST("/api/farms/{slug}/valves/controllers", { params: { path: { slug } }, body }),
    ),
  );
}

export function useRenewControllerToken(slug: string) {
  return useValveChange(slug, (controller: number) =>
    answered(
      client.POST("/api/farms/{slug}/valves/controllers/{controller_id}/token", {
        params: { path: { slug, controller_id: controller } },
      }),
    ),
  );
}

export function useRevokeController(slug: string) {
  return useValveChange(slug, (controller: number) =>
    answered(
      client.DELETE("/api/farms/{slug}/valves/controllers/{controller_id}/token", {
        params: { path: { slug, controller_id: controller } },
      }),
    ),
  );
}
