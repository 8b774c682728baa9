import { useQuery } from "@tanstack/react-query";
import { answered, client, type Schemas } from "../api/client";
import { useChange } from "../api/useChange";

export type Device = Schemas["DeviceOut"];
export type Batch = Schemas["BatchOut"];

export function useDevices(slug: string) {
  return useQuery({
    queryKey: ["farm", slug, "devices"],
    queryFn: () =>
      answered(client.GET("/api/farms/{slug}/devices", { params: { path: { slug } } })),
  });
}

export function useMakeDevice(slug: string) {
  return useChange(slug, (body: Schemas["DeviceIn"]) =>
    answered(client.POST("/api/farms/{slug}/devices", { params: { path: { slug } }, body })),
  );
}

export function useRenewToken(slug: string) {
  return useChange(slug, (device: number) =>
    answered(
      client.POST("/api/farms/{slug}/devices/{device_id}/token", {
        params: { path: { slug, device_id: device } },
      }),
    ),
  );
}

export function useRevoke(slug: string) {
  return useChange(slug, (device: number) =>
    answered(
      client.DELETE("/api/farms/{slug}/devices/{device_id}/token", {
        params: { path: { slug, device_id: device } },
      }),
    ),
  );
}

export function useBatches(slug: string) {
  return useQuery({
    queryKey: ["farm", slug, "batches"],
    queryFn: () =>
      answered(client.GET("/api/farms/{slug}/batches", { params: { path: { slug } } })),
  });
}

export function useUndoBatch(slug: string) {
  return useChange(slug, (batch: number) =>
    answered(
      client.DELETE("/api/farms/{slug}/batches/{batch_id}", {
        params: { path: { slug, batch_id: batch } },
      }),
    ),
  );
}
