import { count } from "../parts/format";
import { Skeleton } from "../parts/States";
import { CountLines } from "../parts/CountLines";
import { Text, Wrong } from "../parts/Words";
import { useHoles } from "./queries";
import type { Sheet } from "./sheet";

/** The leads that no rule takes: what they have in common, one made up, and how many there really were. */
export function Holes({ sheet }: { sheet: Sheet }) {
  const holes = useHoles(sheet, true);
  if (holes.isPending) return <Skeleton rows={4} />;
  if (holes.isError) return <Wrong>{holes.error.message}</Wrong>;
  if (holes.data.length === 0) return <Text>Whatever a lead is like, some rule takes it.</Text>;
  return (
    <>
      <Text $below={2}>Leads like these fit no rule and wait on the Desk.</Text>
      <CountLines>
        {holes.data.map((h) => (
          <li key={h.where + h.moments.join()}>
            <span>
              {h.where}
              <br />
              <small>
                such as {h.example.length > 0 ? h.example.map((e) => `${e.key.toLowerCase()} ${e.name}`).join(", ") : "one of whom nothing is known"}
              </small>
            </span>
            <small>
              {h.leads == null ? "" : h.leads === 0 ? "none in 90 days" : `${count(h.leads, "lead")} in 90 days`}
            </small>
          </li>
        ))}
      </CountLines>
    </>
  );
}
