import { useState } from "react";
import { FileTrigger } from "react-aria-components";
import styled from "styled-components";
import { api, must, type Schema } from "../api/client";
import { Button } from "../parts/Button";
import { Overlay } from "../parts/Dialog";
import { TextBox } from "../parts/Field";
import { count, day } from "../parts/format";
import { tell, tellError } from "../parts/Toast";
import { small } from "../parts/theme";
import { useStaffChange } from "./queries";

type Staff = Schema["StaffView"];

/** A heading with what can be done under it. */
export const Head = styled.div`
  display: flex;
  gap: 12px;
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

const Stack = styled.form`
  display: grid;
  gap: 12px;
  ul {
    padding-left: 20px;
    font-size: 14px;
  }
`;

const sendAs = { bodySerializer: (text: unknown) => String(text), headers: { "Content-Type": "text/calendar" } };

// "holidays-norway-2027.ics" is called "holidays norway 2027" until somebody says otherwise.
const titleOf = (file: string) => file.replace(/\.\w+$/, "").replace(/[-_]+/g, " ").slice(0, 60);

/** The lists of holidays people go by; each comes from an iCalendar file. */
export function Holidays({ staff, maySetUp }: { staff: Staff; maySetUp: boolean }) {
  const [file, setFile] = useState<File>();
  const change = useStaffChange();
  const goingBy = (key: string) => staff.people.filter((p) => p.holidays === key).map((p) => p.name);
  const drop = (list: Staff["calendars"][number]) =>
    change.mutate(() => must(api.DELETE("/api/staff/calendars/{key}", { params: { path: list } })), { onError: tellError, onSuccess: () => tell(`${list.name} is gone`) });
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
          <li key={c.key}>
            <span>
              {c.name}, {count(c.days, "day")}
              {c.from && c.to && `, ${day(c.from)} to ${day(c.to)}`}
            </span>
            <small>{goingBy(c.key).length ? `for ${goingBy(c.key).join(", ")}` : "for nobody yet"}</small>
            {maySetUp && goingBy(c.key).length === 0 && (
              <Button look="quiet" aria-label={`Take ${c.name} away`} onPress={() => drop(c)}>
                Take away
              </Button>
            )}
          </li>
        ))}
      </Lists>
      {file && <HolidayForm file={file} staff={staff} onClose={() => setFile(undefined)} />}
    </>
  );
}

function HolidayForm({ file, staff, onClose }: { file: File; staff: Staff; onClose: () => void }) {
  const [name, setName] = useState(titleOf(file.name));
  const [leftOut, setLeftOut] = useState<string[]>([]);
  const change = useStaffChange();
  const same = staff.calendars.find((c) => c.name.toLowerCase() === name.trim().toLowerCase());
  const keep = () =>
    change.mutate(async () => must(api.POST("/api/staff/calendars", { params: { query: { name } }, body: await file.text(), ...sendAs })), {
      onSuccess: (answer) => {
        tell(`${name.trim()} is kept; people go by it once it is chosen for them`);
        if (answer.leftOut?.length) setLeftOut(answer.leftOut);
        else onClose();
      },
    });
  return (
    <Overlay title={leftOut.length ? "Not everything could be read" : file.name} isOpen onClose={onClose} width={480}>
      {leftOut.length ? (
        <Stack as="div">
          <p>The other days are kept. Left out:</p>
          <ul>
            {leftOut.slice(0, 20).map((l) => (
              <li key={l}>{l}</li>
            ))}
            {leftOut.length > 20 && <li>and {leftOut.length - 20} more</li>}
          </ul>
          <p>
            <Button look="main" onPress={onClose}>
              Close
            </Button>
          </p>
        </Stack>
      ) : (
        <Stack
          onSubmit={(e) => {
            e.preventDefault();
            keep();
          }}
        >
          <TextBox label="Name of the list" value={name} onChange={setName} autoFocus hint={same && `Replaces the ${count(same.days, "day")} of the list of that name.`} error={change.error?.message} />
          <p style={{ display: "flex", gap: 10 }}>
            <Button look="main" type="submit" isDisabled={change.isPending || !name.trim()}>
              Keep
            </Button>
            <Button onPress={onClose}>Leave it</Button>
          </p>
        </Stack>
      )}
    </Overlay>
  );
}
