type Props = { name: string; query: string; at?: string };

/** The same rows as a file, in either of two open formats. */
export function Files({ name, query, at = name }: Props) {
  return (
    <>
      download as{" "}
      <a href={`/api/${at}.csv?${query}`} download={`${name}.csv`}>
        CSV
      </a>{" "}
      or{" "}
      <a href={`/api/${at}.xlsx?${query}`} download={`${name}.xlsx`}>
        workbook
      </a>
    </>
  );
}
