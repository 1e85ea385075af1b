import { Bench, Head, Inner, Pane } from "../../parts/Bench";
import { FieldParts } from "./FieldParts";
import { FormParts } from "./FormParts";
import { PictureParts } from "./PictureParts";
import { WordParts } from "./WordParts";

/** Every part in every state, for the eye; in development builds only. */
export function PartsPage() {
  return (
    <Bench>
      <Pane>
        <Inner>
          <Head>
            <div>
              <h1>Parts</h1>
              <p>Every part in every state. Look at it by day and by night, wide and at 390 px.</p>
            </div>
          </Head>
          <WordParts />
          <FieldParts />
          <FormParts />
          <PictureParts />
        </Inner>
      </Pane>
    </Bench>
  );
}
