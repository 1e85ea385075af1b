import { count } from "../parts/format";
import { Skeleton } from "../parts/States";
import { Lines } from "./DraftSide";
import { useHoles } from "./queries";
import type { Sheet } from "./sheet";

/** The leads that no rule takes: what they have in common, one made up, and how many there really were. */
export function Holes({ sheet }: { sheet: Sheet }) {
  const holes = useHoles(sheet, true);
  if (holes.isPending) return <Skeleton rows={4} />;
  if (holes.isError) return <p style={{ fontSize: 14, color: "var(--bad)" }}>{holes.error.message}</p>;
  if (holes.data.length === 0) return <p style={{ fontSize: 14 }}>Whatever a lead is like, some rule takes it.</p>;
  return (
    <>
      <p style={{ fontSize: 14, marginBottom: 6 }}>Leads like these fit no rule and wait on the Desk.</p>
      <Lines>
        {holes.data.map((h) => (
          <li key={h.where + h.moments.join()}>
            <span>
              {h.where}
              <br />
              <small>
                such as {h.example.length > 0 ? h.example.map((e) => `${e.key.toLowerCase()} ${e.name}`).join(", ") : "one of whom nothing is known"}
              </small>
            </span>
            <small style={{ textAlign: "right" }}>
              {h.leads == null ? "" : h.leads === 0 ? "none in 90 days" : `${count(h.leads, "lead")} in 90 days`}
            </small>
          </li>
        ))}
      </Lines>
    </>
  );
}
