import type { Order } from "../../common/bulk";

export type Kind = "fact" | "tag" | "untag" | "give" | "onward" | "swap" | "state" | "campaign" | "remove" | "hand_over";

export type Act = Order["act"];

/** What each kind of change is called, on its button and over its form. */
export const titles: Record<Kind, string> = {
  fact: "Change a fact",
  tag: "Put a tag on",
  untag: "Take a tag off",
  give: "Give",
  onward: "Hand on",
  swap: "Exchange owners",
  state: "Change the state",
  campaign: "Add to a campaign",
  remove: "Remove",
  hand_over: "Hand over",
};
