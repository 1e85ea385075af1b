import { useMemo, useState } from "react";
import { FindBox, type Found } from "./FindBox";
import { listedFor } from "./listed";

type Props = { label: string; value: string; options: readonly Found[]; onChange: (key: string) => void; error?: string; hint?: string; placeholder?: string };

/** One of a list that is too long to be looked through. */
export function ListedBox({ options, value, onChange, ...props }: Props) {
  const [sought, setSought] = useState("");
  const found = useMemo(() => listedFor(options, sought).slice(0, 50), [options, sought]);
  const chosen = options.find((o) => o.key === value) ?? null;
  return <FindBox {...props} value={chosen} found={found} onSeek={setSought} onChange={(o) => onChange(o?.key ?? "")} />;
}
