import { useQuery } from "@tanstack/react-query";
import { api, must, type Schema } from "../../api/client";
import { keys } from "../../common/keys";

export type Meeting = Schema["MeetingView"];
export type Task = Schema["TaskView"];
export type TaskWrite = Schema["TaskWrite"];
export type MeetingWrite = Schema["MeetingWrite"];
export type Draft = Schema["DraftView"];

const at = (id: string) => ({ params: { path: { id } } });

export const acts = {
  plan: (lead: string, body: TaskWrite) => must(api.POST("/api/leads/{id}/tasks", { ...at(lead), body })),
  planSteps: (lead: string, plan: string) => must(api.POST("/api/leads/{id}/steps", { ...at(lead), body: { plan } })),
  change: (task: string, body: TaskWrite) => must(api.PUT("/api/tasks/{id}", { ...at(task), body })),
  drop: (task: string) => must(api.DELETE("/api/tasks/{id}", at(task))),
  done: (task: string) => must(api.POST("/api/tasks/{id}/done", at(task))),
  reopen: (task: string) => must(api.DELETE("/api/tasks/{id}/done", at(task))),
  meet: (lead: string, body: MeetingWrite) => must(api.POST("/api/leads/{id}/meetings", { ...at(lead), body })),
  conclude: (meeting: string, body: Schema["MeetingResult"]) => must(api.PUT("/api/meetings/{id}/result", { ...at(meeting), body })),
  callOff: (meeting: string) => must(api.DELETE("/api/meetings/{id}", at(meeting))),
  putMeeting: (meeting: string, body: MeetingWrite) => must(api.PUT("/api/meetings/{id}", { ...at(meeting), body })),
  draft: (lead: string, template: string) => must(api.POST("/api/leads/{id}/messages/draft", { ...at(lead), body: { template } })),
  send: (lead: string, body: Schema["MessageWrite"]) => must(api.POST("/api/leads/{id}/messages", { ...at(lead), body })),
  note: (entry: string, body: Schema["NoteChange"]) => must(api.PATCH("/api/story/{id}", { ...at(entry), body })),
  removeNote: (entry: string) => must(api.DELETE("/api/story/{id}", at(entry))),
  restoreNote: (entry: string) => must(api.POST("/api/story/{id}/restore", at(entry))),
};

export const useTemplates = () => useQuery({ queryKey: keys.templates, staleTime: 300_000, queryFn: () => must(api.GET("/api/message-templates")) });
export const useStepPlans = () => useQuery({ queryKey: keys.stepPlans, staleTime: 300_000, queryFn: () => must(api.GET("/api/step-plans")) });
export const useResources = () => useQuery({ queryKey: keys.resources, staleTime: 300_000, queryFn: () => must(api.GET("/api/resources")) });

/** A meeting as it is written again. */
export const written = (m: Meeting): MeetingWrite => ({ subject: m.subject, startsAt: m.startsAt, endsAt: m.endsAt, place: m.place, goal: m.goal, people: m.people, guests: m.guests, resources: m.resources });

export const repeats = [
  { key: "", label: "once" },
  { key: "1d", label: "every day" },
  { key: "1w", label: "every week" },
  { key: "2w", label: "every 2 weeks" },
  { key: "1m", label: "every month" },
  { key: "3m", label: "every 3 months" },
];

/** A repeat as words. */
export const repeatWords = (repeat: string) => repeats.find((r) => r.key === repeat)?.label ?? `every ${repeat.slice(0, -1)} ${{ d: "days", w: "weeks", m: "months" }[repeat.slice(-1)]}`;
