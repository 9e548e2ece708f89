import { z } from "zod";

export const deliverySettingsSchema = z
  .strictObject({
    /** 16-bit PNG sequence, or one ProRes 4444 MOV. */
    format: z.enum(["png", "mov"]),
    alpha: z.enum(["straight", "premultiplied"]),
    firstFrame: z.int().min(1),
    lastFrame: z.int().min(1),
  })
  .refine((s) => s.lastFrame >= s.firstFrame, "the last frame must not come before the first");
export type DeliverySettings = z.infer<typeof deliverySettingsSchema>;

export const DELIVERY_STATES = ["queued", "running", "done", "failed", "cancelled"] as const;

export interface Delivery {
  readonly id: number;
  readonly shotId: number;
  readonly state: (typeof DELIVERY_STATES)[number];
  readonly settings: DeliverySettings;
  readonly doneFrames: number;
  readonly totalFrames: number;
  /** How often a restart of the server took it up again. */
  readonly resumed: number;
  /** Seconds, or null while it cannot be told. */
  readonly timeLeft: number | null;
  readonly error: string | null;
  readonly folder: string;
  readonly files: readonly { readonly name: string; readonly bytes: number }[];
  readonly createdAt: number;
  readonly finishedAt: number | null;
}
