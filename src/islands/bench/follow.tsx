import type { FollowedGround } from "../../core/matte/follow";
import { Button } from "../ui/button";
import { stopFollowing, type Towards } from "./follow-actions";
import { goToFrame } from "./looking";
import { useBench } from "./store";

/** Frames that are named at the most. */
const NAMED = 6;

/**
 * Follows what lies under something from the shown frame to an end of the shot, and tells how far it went.
 * @param of its id @param within what it does, and where it has to lie @param anew what to do where it was lost
 * @param parts what it consists of, where that is several @param turns whether it matters that only a shift was told
 */
export function Follow({
  of,
  label,
  within,
  anew,
  parts,
  turns,
  onFollow,
}: {
  of: string;
  label: string;
  within: string;
  anew: string;
  parts?: string;
  turns?: boolean;
  onFollow: (towards: Towards) => void;
}) {
  const frame = useBench((s) => s.view.frame);
  const { frames } = useBench((s) => s.shot.plate.info);
  const all = useBench((s) => s.following);
  const following = all?.of === of ? all : null;
  const elsewhere = all !== null && !("found" in all) && !following;
  if (following && !("found" in following))
    return (
      <Button className="mb-1 w-full" onClick={stopFollowing}>
        Stop · frame {following.frame}
      </Button>
    );
  return (
    <div data-testid="follow" className="pb-1">
      <div className="flex items-center gap-1.5">
        <span className="grow text-soft">{label}</span>
        {(["start", "end"] as const).map((end) => (
          <Button
            key={end}
            aria-label={`${label} to the ${end}`}
            disabled={frame === (end === "start" ? 1 : frames) || elsewhere}
            title={`From this frame ${end === "start" ? "back to the first" : "on to the last"}. ${within}`}
            onClick={() => onFollow(end)}
          >
            to the {end}
          </Button>
        ))}
      </div>
      {following && <HowFar from={following.from} found={following.found} anew={anew} parts={parts} turns={turns} />}
    </div>
  );
}

function HowFar({
  from,
  found,
  anew,
  parts,
  turns,
}: {
  from: number;
  found: readonly FollowedGround[];
  anew: string;
  parts: string | undefined;
  turns: boolean | undefined;
}) {
  const several = found.length > 1;
  // Of several, those that were lost are told of by themselves.
  const went = several ? found.filter((f) => !f.lost) : found;
  const last = went[0]?.outlines[went[0].outlines.length - 1]?.frame ?? from;
  const lost = new Map<string, { frame: number; why: string; count: number }>();
  for (const { lost: l } of found) {
    if (!l) continue;
    const key = `${l.frame} ${l.why}`;
    lost.set(key, { ...l, count: (lost.get(key)?.count ?? 0) + 1 });
  }
  const unturned = turns ? [...new Set(found.flatMap((f) => f.unturned))].sort((a, b) => a - b) : [];
  return (
    <p className="mt-1.5 text-soft">
      {last !== from && `${several ? `${went.length} of ${found.length} ${parts} followed` : "Followed"} from frame ${from} to ${last}. `}
      {[...lost].map(([key, { frame, why, count }]) => (
        <span key={key}>
          {several ? `${count} lost` : "Lost"} on frame <FrameButton frame={frame} label={`Go to frame ${frame}, where it was lost`} />:{" "}
          {why}.{" "}
        </span>
      ))}
      {lost.size > 0 && anew}
      {unturned.length > 0 && (
        <>
          {" "}
          {several ? "Of some only the" : "Only its"} shift was told on{" "}
          {unturned.slice(0, NAMED).map((n) => (
            <FrameButton key={n} frame={n} label={`Go to frame ${n}`} />
          ))}
          {unturned.length > NAMED && " and others"}: look whether {several ? "they turn" : "it turns"} there.
        </>
      )}
    </p>
  );
}

/** Goes to a frame. @param onGo what is done there besides */
export function FrameButton({ frame, label, shown, onGo }: { frame: number; label: string; shown?: boolean; onGo?: () => void }) {
  return (
    <button
      type="button"
      aria-label={label}
      className={`figure rounded px-1.5 py-0.5 text-[12px] hover:bg-lifted ${shown ? "bg-lifted text-white" : "bg-page text-text"}`}
      onClick={() => {
        goToFrame(frame);
        onGo?.();
      }}
    >
      {frame}
    </button>
  );
}
