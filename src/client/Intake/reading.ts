import type { Schema } from "../api/client";

/** Names of encodings as people know them. */
export const encodings: Record<string, string> = { "utf-8": "UTF-8", "utf-16": "UTF-16", "utf-16BE": "UTF-16, big-endian", "windows-1252": "Windows-1252", "iso-8859-1": "ISO 8859-1", "iso-8859-15": "ISO 8859-15", "windows-1250": "Windows-1250", "windows-1251": "Windows-1251", "iso-8859-2": "ISO 8859-2", "koi8-r": "KOI8-R", "koi8-u": "KOI8-U", macintosh: "Mac Roman", shift_jis: "Shift JIS", gb18030: "GB 18030", big5: "Big5", "euc-jp": "EUC-JP", "euc-kr": "EUC-KR" };

/** Names of what stands between cells. */
export const separators: Record<string, string> = { ",": "comma", ";": "semicolon", "\t": "tab", "|": "bar", ":": "colon", " ": "space" };
const formats: Record<string, string> = { vcard: "Cards", json: "JSON", "json-lines": "JSON, a record a line" };

/** How the file was read, in words. */
export function readingWords({ format, encoding, separator, sheet, headingRow, sheets }: Schema["ListReading"]) {
  const hidden = sheets?.filter((s) => s.hidden).length ?? 0;
  const parts = [
    format === "workbook" ? `Sheet \u201c${sheet}\u201d of ${sheets?.length ?? 1}${hidden ? `, ${hidden} of them hidden` : ""}` : (formats[format] ?? encodings[encoding] ?? encoding),
    format === "separated" && `separated by ${separators[separator] ?? `\u201c${separator}\u201d`}`,
    (format === "separated" || format === "workbook") && (headingRow === 0 ? "no headings" : `headings in row ${headingRow}`),
  ];
  return parts.filter(Boolean).join(", ");
}
