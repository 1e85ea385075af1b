import { useQuery } from "@tanstack/react-query";
import { api, must, type Schema } from "../api/client";
import { upload } from "../api/upload";
import { count } from "../parts/format";
import { useAct } from "../common/acting";
import { keys } from "../common/keys";

/** Sends a change of an opened import and shows what came of it. */
export type Change = (send: () => Promise<unknown>) => void;

const lookAgain = 700;
const atWork = (d: Schema["ImportView"] | undefined) => !!d?.work && !d.trouble;

export const useIntake = () => useQuery({ queryKey: keys.intake, queryFn: () => must(api.GET("/api/intake")), refetchInterval: (q) => (q.state.data?.imports.some(atWork) ? lookAgain * 2 : false) });

export const useImport = (id: string) =>
  useQuery({ queryKey: keys.imported(id), queryFn: () => must(api.GET("/api/imports/{id}", { params: { path: { id } } })), refetchInterval: (q) => (atWork(q.state.data?.import) ? lookAgain : false) });

export const useRows = (id: string, outcome: string | null, after: number, sifted: unknown) =>
  useQuery({
    queryKey: keys.importRows(id, outcome, after, sifted),
    queryFn: () => must(api.GET("/api/imports/{id}/rows", { params: { path: { id }, query: { outcome: outcome ?? undefined, after } } })),
    placeholderData: (before) => before,
  });

/** Values that could not be read; asked for only while nothing is under way. */
export const useProblems = (imported: Schema["ImportView"]) =>
  useQuery({
    queryKey: keys.importProblems(imported.id, imported.counts, imported.state),
    queryFn: () => must(api.GET("/api/imports/{id}/problems", { params: { path: { id: imported.id } } })),
    enabled: !imported.work,
    placeholderData: (before) => before,
  });

/** Puts a value right, with the way back. Gives the sentence that says what is wrong with it, if anything is. */
export function useMend(id: string) {
  const act = useAct();
  const undo = (mend: number) => must(api.DELETE("/api/imports/{id}/mends/{mend}", { params: { path: { id, mend } } }));
  const mend = async (order: Schema["MendOrder"]): Promise<string | undefined> => {
    let wrong: string | undefined;
    await act.run(() => must(api.POST("/api/imports/{id}/mends", { params: { path: { id } }, body: order })), {
      changes: ["import"],
      words: (done) => `Put right in ${count(done.rows, "row")}.`,
      back: (done) => undo(done.id),
      // It stands at the value.
      refused: (e) => ((wrong = e instanceof Error ? e.message : String(e)), true),
    });
    return wrong;
  };
  return { mend, busy: act.busy };
}

/** Takes in a letter. */
export const dropLetter = (file: File): Promise<Schema["LetterResult"][]> => upload("/api/letters", "files", file, () => undefined);

/** Sends a list to the sieve; progress is the share sent, 0 to 1. */
export const dropList = (file: File, onProgress: (share: number) => void): Promise<Schema["SieveView"]> => upload("/api/imports", "file", file, onProgress);
