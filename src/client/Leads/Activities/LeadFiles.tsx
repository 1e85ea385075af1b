import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { DropZone, FileTrigger, type FileDropItem } from "react-aria-components";
import styled from "styled-components";
import { api, must } from "../../api/client";
import { upload } from "../../api/upload";
import { useUndoable } from "../../parts/acting";
import { Button } from "../../parts/Button";
import { bytes, exact } from "../../parts/format";
import { tell, tellError } from "../../parts/Toast";
import { small } from "../../parts/theme";
import { useRefresh, useSession } from "../../Setup/session";
import type { Sheet } from "../queries";

const Zone = styled(DropZone)`
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 2px 14px;
  flex: 1;
  border-radius: 4px;
  &[data-drop-target] {
    outline: 2px dashed var(--slate);
    outline-offset: 3px;
  }
  .file {
    display: inline-flex;
    align-items: center;
    gap: 4px;
    overflow-wrap: anywhere;
  }
  small {
    ${small}
  }
  button {
    min-height: 24px;
    padding: 0 4px;
    font-size: 13px;
    font-weight: 450;
  }
`;

/** Files of a lead: they are saved, added by choosing or dropping, and those somebody added are removed. */
export function LeadFiles({ lead, mayWrite }: { lead: Sheet; mayWrite: boolean }) {
  const path = { id: lead.id };
  const { timeZone } = useSession();
  const refresh = useRefresh();
  const run = useUndoable();
  const [busy, setBusy] = useState(false);
  const files = useQuery({ queryKey: ["files", lead.id, lead.version], queryFn: () => must(api.GET("/api/leads/{id}/files", { params: { path } })), placeholderData: (before) => before });
  const add = async (chosen: File[]) => {
    setBusy(true);
    try {
      for (const file of chosen) await upload(`/api/leads/${lead.id}/files`, "file", file);
      if (chosen.length) tell(chosen.length === 1 ? `${chosen[0]!.name} is with the lead.` : `${chosen.length} files are with the lead.`);
    } catch (e) {
      tellError(e);
    } finally {
      setBusy(false);
      await refresh();
    }
  };
  const remove = (file: { id: string; name: string }) =>
    run(
      () => must(api.DELETE("/api/files/{id}", { params: { path: file } })),
      `${file.name} is removed.`,
      () => must(api.POST("/api/files/{id}/restore", { params: { path: file } })),
    );
  return (
    <Zone
      aria-label="Files"
      isDisabled={!mayWrite}
      getDropOperation={() => "copy"}
      onDrop={(e) => void Promise.all(e.items.filter((i): i is FileDropItem => i.kind === "file").map((i) => i.getFile())).then(add)}
    >
      {files.data?.map((f) => (
        <span className="file" key={f.id} title={[exact(f.at, timeZone), f.by].filter(Boolean).join(", ")}>
          <a href={`/api/files/${f.id}`} download={f.name}>
            {f.name}
          </a>
          <small>{bytes(f.size)}</small>
          {mayWrite && f.by && (
            <Button look="quiet" aria-label={`Remove ${f.name}`} onPress={() => void remove(f)}>
              ✕
            </Button>
          )}
        </span>
      ))}
      {mayWrite ? (
        <FileTrigger allowsMultiple onSelect={(chosen) => void add([...(chosen ?? [])])}>
          <Button look="quiet" isDisabled={busy}>
            {busy ? "adding…" : "add a file"}
          </Button>
        </FileTrigger>
      ) : (
        !files.data?.length && "none"
      )}
    </Zone>
  );
}
