import { useState } from "react";
import styled from "styled-components";
import type { Schema } from "../api/client";
import { useForm } from "../common/form";
import { FormBox } from "../common/FormBox";
import { Button } from "../parts/Button";
import { Overlay } from "../parts/Dialog";
import { TextBox } from "../parts/Field";
import { count } from "../parts/format";
import { staffActs, useShowStaff } from "./queries";

const Marked = styled.ul`
  padding-left: 20px;
  margin: 8px 0 14px;
  font-size: 14px;
`;

// "holidays-norway-2027.ics" is called "holidays norway 2027" until somebody says otherwise.
const titleOf = (file: string) => file.replace(/\.\w+$/, "").replace(/[-_]+/g, " ").slice(0, 60);

const shown = 20;

type Props = { file: File; staff: Schema["StaffView"]; onClose: () => void };

/** A list of holidays gets its name; what of it could not be read is told. */
export function HolidayForm({ file, staff, onClose }: Props) {
  const [leftOut, setLeftOut] = useState<readonly string[]>([]);
  const show = useShowStaff();
  const form = useForm({ called: "the list of holidays", initial: { name: titleOf(file.name) }, asks: false });
  const name = form.values.name.trim();
  const same = staff.calendars.find((c) => c.name.toLowerCase() === name.toLowerCase());
  const keep = () =>
    form.send(async () => show(await staffActs.addCalendar(name, await file.text())), {
      changes: ["staff"],
      words: `${name} is kept; people go by it once it is chosen for them`,
      then: (answer) => (answer.leftOut?.length ? setLeftOut(answer.leftOut) : onClose()),
    });
  if (leftOut.length > 0)
    return (
      <Overlay title="Not everything could be read" isOpen onClose={onClose} width={480}>
        <p>The other days are kept. Left out:</p>
        <Marked>
          {leftOut.slice(0, shown).map((l) => (
            <li key={l}>{l}</li>
          ))}
          {leftOut.length > shown && <li>and {leftOut.length - shown} more</li>}
        </Marked>
        <Button look="main" onPress={onClose}>
          Close
        </Button>
      </Overlay>
    );
  return (
    <Overlay title={file.name} isOpen onClose={onClose} width={480}>
      <FormBox form={form} words="Keep" onSend={keep} onLeave={onClose} isReady={!!name}>
        <TextBox label="Name of the list" {...form.bind("name")} autoFocus hint={same && `Replaces the ${count(same.days, "day")} of the list of that name.`} />
      </FormBox>
    </Overlay>
  );
}
