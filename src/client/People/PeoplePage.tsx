import { Bench, Head, Inner, Pane } from "../parts/Bench";
import { PeopleList } from "./PeopleList";

/** Who works here, and as what. */
export function PeoplePage() {
  return (
    <Bench>
      <Pane aria-label="People">
        <Inner>
          <Head>
            <div>
              <h1>People</h1>
              <p>Who works here, and as what. Somebody who is invited comes in by an address that opens once, and chooses a password there.</p>
            </div>
          </Head>
          <PeopleList />
        </Inner>
      </Pane>
    </Bench>
  );
}
