import { useQuery } from "@tanstack/react-query";
import { DropZone, FileTrigger, type FileDropItem } from "react-aria-components";
import styled from "styled-components";
import { api, must } from "../../api/client";
import { upload } from "../../api/upload";
import { useAct } from "../../common/acting";
import { keys } from "../../common/keys";
import { useSession } from "../../common/session";
import { Button } from "../../parts/Button";
import { bytes, exact } from "../../parts/format";
import { small } from "../../parts/theme";
import type { Sheet } from "../queries";

const Zone = styled(DropZone)`
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 2px 14px;
  flex: 1;
  border-radius: 3px;
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

type LeadFile = { id: string; name: string; size: number; at: string; by?: string | null };

/** Files of a lead: they are saved, added by choosing or dropping, and those somebody added are removed. */
export function LeadFiles({ lead, mayWrite }: { lead: Sheet; mayWrite: boolean }) {
  const act = useAct();
  const files = useQuery({ queryKey: keys.files(lead.id, lead.version), queryFn: () => must(api.GET("/api/leads/{id}/files", { params: { path: { id: lead.id } } })), placeholderData: (before) => before });
  const add = async (chosen: File[]) => {
    if (chosen.length === 0) return;
    const send = async () => {
      for (const file of chosen) await upload(`/api/leads/${lead.id}/files`, "file", file);
    };
    await act.run(send, { changes: ["files"], words: chosen.length === 1 ? `${chosen[0]!.name} is with the lead.` : `${chosen.length} files are with the lead.` });
  };
  return (
    <Zone
      aria-label="Files"
      isDisabled={!mayWrite}
      getDropOperation={() => "copy"}
      onDrop={(e) => void Promise.all(e.items.filter((i): i is FileDropItem => i.kind === "file").map((i) => i.getFile())).then(add)}
    >
      {files.data?.map((f) => (
        <OneFile key={f.id} file={f} mayRemove={mayWrite && !!f.by} />
      ))}
      {mayWrite ? (
        <FileTrigger allowsMultiple onSelect={(chosen) => void add([...(chosen ?? [])])}>
          <Button look="inline" isPending={act.busy}>
            {act.busy ? "adding" : "add a file"}
          </Button>
        </FileTrigger>
      ) : (
        !files.data?.length && "none"
      )}
    </Zone>
  );
}

function OneFile({ file, mayRemove }: { file: LeadFile; mayRemove: boolean }) {
  const { timeZone } = useSession();
  const act = useAct();
  const path = { id: file.id };
  const remove = () => act.run(() => must(api.DELETE("/api/files/{id}", { params: { path } })), { changes: ["files"], words: `${file.name} is removed.`, back: () => must(api.POST("/api/files/{id}/restore", { params: { path } })) });
  return (
    <span className="file" title={[exact(file.at, timeZone), file.by].filter(Boolean).join(", ")}>
      <a href={`/api/files/${file.id}`} download={file.name}>
        {file.name}
      </a>
      <small>{bytes(file.size)}</small>
      {mayRemove && (
        <Button look="quiet" aria-label={`Remove ${file.name}`} onPress={() => void remove()}>
          ✕
        </Button>
      )}
    </span>
  );
}
