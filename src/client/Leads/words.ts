/** Words for the states and the next moves. */
export const states: Record<string, string> = { new: "New", in_work: "In work", on_hold: "On hold", qualified: "Qualified", handed_over: "Handed over", disqualified: "Disqualified" };

export const moves: Record<string, string> = { hand_over: "Hand over", nurture: "Nurture", check: "Check", park: "Park" };
