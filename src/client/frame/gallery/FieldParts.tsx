import { useState } from "react";
import { MoneyBox } from "../../common/MoneyBox";
import { MaybeNumberBox, NumberBox } from "../../common/NumberBox";
import { NumberText } from "../../common/NumberText";
import { PickListChoice } from "../../common/PickList";
import { AccountBox, ContactBox, PersonBox } from "../../common/RecordBox";
import { DayBox, MomentBox } from "../../parts/DayBox";
import { ChoiceBox, TextBox } from "../../parts/Field";
import { FindBox, type Found } from "../../parts/FindBox";
import { Picking } from "../../parts/Picking";
import { Tick, Ticks } from "../../parts/Ticks";
import { TimeBox } from "../../parts/TimeBox";
import { ZoneBox } from "../../parts/ZoneBox";
import { Kind, Shown } from "./Shown";

const colours = ["slate", "amber", "a colour with a very long name that does not fit its box"].map((label) => ({ key: label, label }));

/** Boxes one types or chooses in. */
export function FieldParts() {
  return (
    <>
      <Texts />
      <Choices />
      <Numbers />
      <Times />
      <Records />
    </>
  );
}

function Texts() {
  const [text, setText] = useState("Ytre Fjord Laks AS");
  const props = { label: "Company", value: text, onChange: setText };
  return (
    <Kind name="Text">
      <Shown state="filled">
        <TextBox {...props} />
      </Shown>
      <Shown state="empty, with a hint">
        <TextBox {...props} value="" hint="As it stands on the letterhead." placeholder="name" />
      </Shown>
      <Shown state="wrong">
        <TextBox {...props} error="This company is barred." />
      </Shown>
      <Shown state="switched off">
        <TextBox {...props} isDisabled />
      </Shown>
      <Shown state="several lines">
        <TextBox {...props} lines={3} />
      </Shown>
    </Kind>
  );
}

function Choices() {
  const [one, setOne] = useState<string | null>("slate");
  const [some, setSome] = useState(["amber"]);
  const [yes, setYes] = useState(true);
  const choice = { label: "Colour", value: one, options: colours, onChange: setOne };
  return (
    <Kind name="Choices">
      <Shown state="one of a list">
        <ChoiceBox {...choice} />
      </Shown>
      <Shown state="none yet, wrong">
        <ChoiceBox {...choice} value={null} error="Choose a colour." />
      </Shown>
      <Shown state="long, switched off">
        <ChoiceBox {...choice} value={colours[2]!.key} isDisabled />
      </Shown>
      <Shown state="any of a few">
        <Ticks label="Colours" options={colours} value={some} onChange={setSome} />
      </Shown>
      <Shown state="any of many">
        <Picking label="Colours" options={colours} value={some} onChange={setSome} />
      </Shown>
      <Shown state="yes or no">
        <Tick value={yes} onChange={setYes}>
          Pass over those who are away
        </Tick>
      </Shown>
      <Shown state="a list that is added to where it is needed">
        <PickListChoice list="segments" label="Segment" value={null} onChange={() => undefined} none="none" />
      </Shown>
    </Kind>
  );
}

function Numbers() {
  const [number, setNumber] = useState(12.5);
  const [maybe, setMaybe] = useState<number>();
  const [text, setText] = useState("1,250");
  const [money, setMoney] = useState({ amount: "84600", currency: "EUR" });
  return (
    <Kind name="Numbers and money">
      <Shown state="a number between 0 and 100">
        <NumberBox label="Share" value={number} least={0} most={100} onChange={setNumber} />
      </Shown>
      <Shown state="a number or none">
        <MaybeNumberBox label="Most" value={maybe} least={1} most={60} whole onChange={setMaybe} placeholder="no limit" />
      </Shown>
      <Shown state="of two readings">
        <NumberText label="Amount" value={text} onChange={setText} />
      </Shown>
      <Shown state="money">
        <MoneyBox label="Amount" value={money} onChange={setMoney} currencies={["EUR", "GBP", "NOK"]} />
      </Shown>
      <Shown state="money, wrong">
        <MoneyBox label="Amount" value={{ amount: "a lot", currency: "EUR" }} onChange={() => undefined} currencies={["EUR"]} error="“a lot” is not a number." />
      </Shown>
    </Kind>
  );
}

function Times() {
  const [day, setDay] = useState("2026-12-04");
  const [moment, setMoment] = useState("2026-12-04T14:30");
  const [time, setTime] = useState("09:30");
  const [zone, setZone] = useState("Europe/Oslo");
  return (
    <Kind name="Days and times">
      <Shown state="a day">
        <DayBox label="By" value={day} onChange={setDay} />
      </Shown>
      <Shown state="a day, empty, with a hint">
        <DayBox label="By" value="" onChange={() => undefined} hint="fri, in 3 weeks, 15.1." />
      </Shown>
      <Shown state="a day, wrong">
        <DayBox label="By" value={day} onChange={setDay} error="This is before it begins." />
      </Shown>
      <Shown state="a day and a time">
        <MomentBox label="When" value={moment} onChange={setMoment} />
      </Shown>
      <Shown state="a time of day">
        <TimeBox label="From" value={time} onChange={setTime} />
      </Shown>
      <Shown state="a time zone">
        <ZoneBox label="Time zone" value={zone} onChange={setZone} />
      </Shown>
    </Kind>
  );
}

const nobody = { value: null, onChange: () => undefined };

function Records() {
  const [found, setFound] = useState<Found | null>(null);
  const [seen, setSeen] = useState("");
  const fits = colours.map((c): Found => ({ ...c, line: "a line that tells it from others" })).filter((c) => c.label.includes(seen));
  return (
    <Kind name="Records">
      <Shown state="one of many">
        <FindBox label="Colour" value={found} onChange={setFound} found={fits} onSeek={setSeen} />
      </Shown>
      <Shown state="wrong">
        <FindBox label="Colour" value={null} onChange={() => undefined} found={[]} onSeek={() => undefined} error="Say which." />
      </Shown>
      <Shown state="an account">
        <AccountBox label="Account" {...nobody} />
      </Shown>
      <Shown state="a contact">
        <ContactBox label="Contact" {...nobody} />
      </Shown>
      <Shown state="somebody of us">
        <PersonBox label="Owner" {...nobody} />
      </Shown>
    </Kind>
  );
}
