import type { Schema } from "../api/client";
import { useSheetAct } from "../common/acting";
import { keys } from "../common/keys";

/** Acts on a deal; see {@link useSheetAct}. */
export const useDealAct = (id: string) => useSheetAct<Schema["DealSheet"]>(keys.deal(id), "deal");
