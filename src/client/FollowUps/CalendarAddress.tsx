import { useState } from "react";
import { api, must } from "../api/client";
import { useAct } from "../common/acting";
import { Button } from "../parts/Button";
import { Overlay } from "../parts/Dialog";
import { TextBox } from "../parts/Field";
import { Row, Stack } from "../parts/Layout";
import { Hint } from "../parts/Words";
import { useCalendar } from "./queries";

/** The private address under which a calendar program reads one's follow-ups. */
export function CalendarAddress() {
  const [open, setOpen] = useState(false);
  return (
    <>
      <Button look="quiet" onPress={() => setOpen(true)}>
        In your calendar
      </Button>
      <Overlay title="Follow-ups in your calendar" isOpen={open} onClose={() => setOpen(false)} width={560}>
        <Address />
      </Overlay>
    </>
  );
}

function Address() {
  const calendar = useCalendar();
  const act = useAct();
  const [made, setMade] = useState<string>();
  const make = () => void act.run(() => must(api.POST("/api/calendar")), { changes: ["calendar"], then: ({ path }) => setMade(`${location.origin}${path}`) });
  const drop = () => void act.run(() => must(api.DELETE("/api/calendar")), { changes: ["calendar"], words: "The address is void. Calendars that had it show nothing new.", then: () => setMade(undefined) });
  return (
    <Stack>
      <p>A calendar program that subscribes to this address shows your next steps and meetings, and keeps up with them. Whoever has the address sees them: keep it to yourself.</p>
      {made && <TextBox label="Your address, shown once" value={made} isReadOnly onFocus={(e) => (e.target as HTMLInputElement).select()} autoFocus />}
      <Row $gap={3}>
        <Button look={made ? "plain" : "main"} isPending={act.busy} onPress={make}>
          {calendar.data?.made ? "Make a new address" : "Make the address"}
        </Button>
        {calendar.data?.made && (
          <Button isPending={act.busy} onPress={drop}>
            Make it void
          </Button>
        )}
      </Row>
      {calendar.data?.made && !made && <Hint>There is an address. It is not kept readable, so it cannot be shown again; a new one makes it void.</Hint>}
    </Stack>
  );
}
