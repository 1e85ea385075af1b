import { Link } from "react-router";
import { Bench, Cap, Head, Inner, Pane } from "../../parts/Bench";
import { Empty, Skeleton, ErrorNote } from "../../parts/States";
import styled from "styled-components";
import { useWaiting } from "./queries";
import { Waiting } from "./Waiting";

const Narrow = styled(Inner)`
  max-width: 760px;
`;

/** Everything that came in by itself and waits for a person's word, from whatever channel. */
export function WaitingPage() {
  const waiting = useWaiting();
  return (
    <Bench>
      <Pane aria-label="Arrivals that wait">
        <Narrow>
          <Cap>
            <Link to="/intake">Intake</Link>
          </Cap>
          <Head>
            <h1>Arrivals that wait</h1>
          </Head>
          {waiting.isPending && <Skeleton />}
          {waiting.isError && <ErrorNote error={waiting.error} />}
          {waiting.data?.length === 0 && <Empty>What looks like spam, is barred or says too little waits here with its reasons. Nothing does.</Empty>}
          <Waiting />
        </Narrow>
      </Pane>
    </Bench>
  );
}
