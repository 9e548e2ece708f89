import { useRef } from "react";

interface Place {
  readonly clientX: number;
  readonly clientY: number;
}
interface Finger extends Place {
  readonly pointerId: number;
  readonly pointerType: string;
}

/** Two fingers on the picture. */
export interface Pinch {
  /** Notes a finger that is set down. @returns whether there are two now */
  readonly down: (e: Finger) => boolean;
  /** Notes where a finger is. @returns whether a pinch is on, which then is told of */
  readonly move: (e: Finger) => boolean;
  readonly up: (e: Finger) => void;
}

/**
 * Follows two fingers.
 * @param onPinch told from where to where the middle between them went, and how many times farther apart they are
 */
export function usePinch(onPinch: (from: Place, to: Place, times: number) => void): Pinch {
  const fingers = useRef(new Map<number, Place>());
  const placeOf = () => {
    const [a, b] = [...fingers.current.values()] as [Place, Place];
    return {
      clientX: (a.clientX + b.clientX) / 2,
      clientY: (a.clientY + b.clientY) / 2,
      apart: Math.max(1, Math.hypot(a.clientX - b.clientX, a.clientY - b.clientY)),
    };
  };
  return {
    down: (e) => {
      if (e.pointerType !== "touch" || fingers.current.size >= 2) return false;
      fingers.current.set(e.pointerId, { clientX: e.clientX, clientY: e.clientY });
      return fingers.current.size === 2;
    },
    move: (e) => {
      if (!fingers.current.has(e.pointerId)) return false;
      const two = fingers.current.size === 2;
      const from = two ? placeOf() : null;
      fingers.current.set(e.pointerId, { clientX: e.clientX, clientY: e.clientY });
      if (!from) return false;
      const to = placeOf();
      onPinch(from, to, to.apart / from.apart);
      return true;
    },
    up: (e) => void fingers.current.delete(e.pointerId),
  };
}
