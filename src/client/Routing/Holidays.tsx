import { useState } from "react";
import { FileTrigger } from "react-aria-components";
import styled from "styled-components";
import type { Schema } from "../api/client";
import { useAct } from "../common/acting";
import { Button } from "../parts/Button";
import { count, day } from "../parts/format";
import { small } from "../parts/theme";
import { HolidayForm } from "./HolidayForm";
import { staffActs, useShowStaff } from "./queries";

type Staff = Schema["StaffView"];

/** A heading with what can be done under it. */
export const Head = styled.div`
  display: flex;
  flex-wrap: wrap;
  gap: 2px 12px;
  margin: 20px 0 6px;
  align-items: baseline;
  h2 {
    margin: 0;
  }
`;

const Lists = styled.ul`
  list-style: none;
  padding: 0;
  font-size: 14px;
  li {
    display: flex;
    flex-wrap: wrap;
    align-items: baseline;
    gap: 0 12px;
    padding: 4px 0;
  }
  small {
    ${small}
  }
`;

/** The lists of holidays people go by; each comes from an iCalendar file. */
export function Holidays({ staff, maySetUp }: { staff: Staff; maySetUp: boolean }) {
  const [file, setFile] = useState<File>();
  return (
    <>
      <Head>
        <h2>Holidays</h2>
        {maySetUp && (
          <FileTrigger acceptedFileTypes={[".ics", ".vcs", "text/calendar"]} onSelect={(files) => setFile(files?.[0])}>
            <Button look="quiet">Add a list of holidays (iCalendar)</Button>
          </FileTrigger>
        )}
      </Head>
      <Lists>
        {staff.calendars.length === 0 && <li>No holidays are known; every working day counts.</li>}
        {staff.calendars.map((c) => (
          <Calendar key={c.key} calendar={c} people={staff.people.filter((p) => p.holidays === c.key).map((p) => p.name)} maySetUp={maySetUp} />
        ))}
      </Lists>
      {file && <HolidayForm file={file} staff={staff} onClose={() => setFile(undefined)} />}
    </>
  );
}

function Calendar({ calendar: c, people, maySetUp }: { calendar: Staff["calendars"][number]; people: string[]; maySetUp: boolean }) {
  const show = useShowStaff();
  const act = useAct();
  const drop = () => void act.run(() => staffActs.dropCalendar(c.key).then(show), { changes: ["staff"], words: `${c.name} is gone` });
  return (
    <li>
      <span>
        {c.name}, {count(c.days, "day")}
        {c.from && c.to && `, ${day(c.from)} to ${day(c.to)}`}
      </span>
      <small>{people.length ? `for ${people.join(", ")}` : "for nobody yet"}</small>
      {maySetUp && people.length === 0 && (
        <Button look="quiet" aria-label={`Take ${c.name} away`} onPress={drop}>
          Take away
        </Button>
      )}
    </li>
  );
}
