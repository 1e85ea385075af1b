import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api, must } from "../api/client";
import { Button } from "../parts/Button";
import { Overlay } from "../parts/Dialog";
import { TextBox } from "../parts/Field";
import { tell, tellError } from "../parts/Toast";
import { useCalendar } from "./queries";
import { keys } from "../common/keys";

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
  const queries = useQueryClient();
  const [made, setMade] = useState<string>();
  const make = async () => {
    try {
      const { path } = await must(api.POST("/api/calendar"));
      setMade(`${location.origin}${path}`);
      await queries.invalidateQueries({ queryKey: keys.calendar });
    } catch (e) {
      tellError(e);
    }
  };
  const drop = async () => {
    try {
      await must(api.DELETE("/api/calendar"));
      setMade(undefined);
      await queries.invalidateQueries({ queryKey: keys.calendar });
      tell("The address is void. Calendars that had it show nothing new.");
    } catch (e) {
      tellError(e);
    }
  };
  return (
    <div style={{ display: "grid", gap: 12 }}>
      <p>A calendar program that subscribes to this address shows your next steps and meetings, and keeps up with them. Whoever has the address sees them: keep it to yourself.</p>
      {made && <TextBox label="Your address, shown once" value={made} isReadOnly onFocus={(e) => (e.target as HTMLInputElement).select()} autoFocus />}
      <div style={{ display: "flex", gap: 12 }}>
        <Button look={made ? "plain" : "main"} onPress={() => void make()}>
          {calendar.data?.made ? "Make a new address" : "Make the address"}
        </Button>
        {calendar.data?.made && <Button onPress={() => void drop()}>Make it void</Button>}
      </div>
      {calendar.data?.made && !made && <p style={{ color: "var(--soft)", fontSize: 13 }}>There is an address. It is not kept readable, so it cannot be shown again; a new one makes it void.</p>}
    </div>
  );
}
