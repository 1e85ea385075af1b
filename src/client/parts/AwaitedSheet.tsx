import { Inner, Pane } from "./Bench";
import { Skeleton, ErrorNote } from "./States";

/** A sheet that is on its way; or why it does not come. */
export function AwaitedSheet({ error }: { error: unknown }) {
  return <Pane $sheet>{error ? <ErrorNote error={error} /> : <Inner><Skeleton /></Inner>}</Pane>;
}
