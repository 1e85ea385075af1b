import { useState } from "react";
import { ApiError } from "../../api/client";
import { Button } from "../../parts/Button";
import { ClockBar } from "../../parts/ClockBar";
import { CountLines } from "../../parts/CountLines";
import { DataTable } from "../../parts/DataTable";
import { Big, Bigs, Evidence } from "../../parts/Evidence";
import { Fold } from "../../parts/Fold";
import { Row } from "../../parts/Layout";
import { Mark } from "../../parts/Mark";
import { Said } from "../../parts/Said";
import { Empty, ErrorNote, Skeleton } from "../../parts/States";
import { Tabs } from "../../parts/Tabs";
import { TagMark } from "../../parts/TagMark";
import { Trace } from "../../parts/Trace";
import { Urgent } from "../../parts/Urgent";
import { Hint, Quiet, Soft, Text, Warm, Wrong } from "../../parts/Words";
import { Kind, Shown } from "./Shown";

const clock = (used: number, minutesLeft: number) => ({ dueAt: "2026-12-01T12:00:00Z", used, minutesLeft });

/** Buttons, words, marks and lists. */
export function WordParts() {
  return (
    <>
      <Buttons />
      <Words />
      <Lists />
    </>
  );
}

function Buttons() {
  return (
    <Kind name="Buttons">
      <Shown state="each look">
        <Row>
          <Button look="main">Hand over</Button>
          <Button>Plain</Button>
          <Button look="quiet">Quiet</Button>
          <Button look="bad">Take away</Button>
        </Row>
      </Shown>
      <Shown state="switched off">
        <Row>
          <Button look="main" isDisabled>
            Hand over
          </Button>
          <Button isDisabled>Plain</Button>
        </Row>
      </Shown>
      <Shown state="busy">
        <Row>
          <Button look="main" isPending>
            Hand over
          </Button>
          <Button isPending>Plain</Button>
        </Row>
      </Shown>
      <Shown state="within a sentence">
        <Text>
          Two of three are known; <Button look="inline">fill in the third</Button>.
        </Text>
      </Shown>
    </Kind>
  );
}

function Words() {
  return (
    <Kind name="Words and marks">
      <Shown state="kinds of words">
        <Text>Text of the page</Text>
        <Hint>A hint under something</Hint>
        <Soft>Soft beside something</Soft> <Quiet>quiet</Quiet> <Warm>waits for somebody</Warm>
        <Wrong>What is wrong.</Wrong>
      </Shown>
      <Shown state="marks">
        <Row $gap={3}>
          <Mark /> <Urgent /> <TagMark tag={{ name: "partner: referred", colour: "slate" }} /> <TagMark tag={{ name: "to be removed", colour: "lamp" }} onRemove={() => undefined} />
        </Row>
      </Shown>
      <Shown state="clocks: begun, late">
        <ClockBar clock={clock(0.3, 170)} />
        <ClockBar clock={clock(1.2, -45)} />
      </Shown>
      <Shown state="findings">
        <Said findings={[{ blocks: true, words: "This line never counts." }, { blocks: false, words: "Few leads have this." }]} />
      </Shown>
      <Shown state="loading">
        <Skeleton rows={3} />
      </Shown>
      <Shown state="nothing there">
        <Empty action={<Button>Make the first</Button>}>Nothing waits here.</Empty>
      </Shown>
      <Shown state="an error">
        <ErrorNote error={new ApiError("The server cannot be reached. What you wrote is still here; try again.", 0, "unreachable")} />
      </Shown>
    </Kind>
  );
}

function Lists() {
  const [tab, setTab] = useState<"why" | "facts">("why");
  return (
    <Kind name="Lists">
      <Shown state="parts of a screen">
        <Tabs label="Parts" tabs={[{ key: "why", label: "Why" }, { key: "facts", label: "Facts" }] as const} at={tab} onChoose={setTab} />
      </Shown>
      <Shown state="reasons with points">
        <Evidence items={[{ label: "Runs operations", points: 20, detail: "job title" }, { label: "Free mail address", points: -10 }]} sum="fit 10" />
      </Shown>
      <Shown state="numbers of importance">
        <Bigs>
          <Big value="42" caption="waiting" warm />
          <Big value="€ 84 600" caption="weighted" />
        </Bigs>
      </Shown>
      <Shown state="counts">
        <CountLines>
          <li>
            Fairs <b>12</b>
          </li>
          <li>
            Enquiries <b>240</b>
          </li>
        </CountLines>
      </Shown>
      <Shown state="a way of reasons">
        <Trace>
          <li>Rule 1 does not fit</li>
          <li data-hit>Rule 2, Norway, fits</li>
        </Trace>
      </Shown>
      <Shown state="folded, open">
        <Fold title="Folded">hidden</Fold>
        <Fold title="Open" open>
          shown
        </Fold>
      </Shown>
      <Shown state="a table wider than its place">
        <DataTable label="Editions" head={["Edition", "Live since", "What it was for", { label: "Leads", isNumber: true }]}>
          <tr>
            <td>12</td>
            <td>Mon 30 Nov</td>
            <td>Fish farming in the far north, with its own people</td>
            <td className="n">1 250</td>
          </tr>
        </DataTable>
      </Shown>
    </Kind>
  );
}
