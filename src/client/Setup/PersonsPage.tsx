import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Form } from "react-aria-components";
import { useSearchParams } from "react-router";
import styled from "styled-components";
import { api, must, type Schema, type ApiError } from "../api/client";
import { Cap, Table } from "../parts/Bench";
import { Button } from "../parts/Button";
import { TextBox } from "../parts/Field";
import { count, exact, whole } from "../parts/format";
import { Ticks } from "../parts/Ticks";
import { tell } from "../parts/Toast";
import { useRefresh, useSession } from "../common/session";
import { SetupPage } from "./SetupPage";
import { keys } from "../common/keys";

const Ask = styled(Form)`
  display: flex;
  gap: 12px;
  align-items: flex-start;
  max-width: 560px;
  margin-bottom: 24px;
  > :first-child {
    flex: 1;
  }
  button {
    margin-top: 23px;
  }
`;

const Erase = styled(Form)`
  display: grid;
  gap: 12px;
  justify-items: start;
  max-width: 560px;
  margin-top: 30px;
  padding-top: 16px;
  border-top: 1px solid var(--hair);
  > :nth-child(3) {
    width: 100%;
  }
`;

/** Whoever asks what we have about them is given it, and whoever asks to be forgotten is. */
export function PersonsPage() {
  const [params, setParams] = useSearchParams();
  const who = params.get("who") ?? "";
  const [written, setWritten] = useState(who);
  const done = useQuery({ queryKey: keys.erasures, queryFn: () => must(api.GET("/api/persons/erasures")) });
  const person = useQuery({ queryKey: ["person", who], enabled: !!who, queryFn: () => must(api.GET("/api/persons", { params: { query: { who } } })) });
  return (
    <SetupPage title="One person's data" intro="Somebody may ask what you have about them, and to be forgotten. Find them by email address, or by the number of a lead." query={done}>
      {(erasures) => (
        <>
          <Ask
            onSubmit={(e) => {
              e.preventDefault();
              if (written.trim() === who) void person.refetch();
              else setParams(written.trim() ? { who: written.trim() } : {});
            }}
          >
            <TextBox label="Email address, or number of a lead" value={written} onChange={setWritten} error={who && person.error && !person.isFetching ? person.error.message : undefined} />
            <Button look="main" type="submit" isDisabled={!written.trim() || person.isFetching}>
              {person.isFetching ? "Looking …" : "Look"}
            </Button>
          </Ask>
          {who && person.data && !person.error && <Person key={person.data.who} person={person.data} onErased={() => (setWritten(""), setParams({}))} />}
          {erasures.length > 0 && <Erasures list={erasures} />}
        </>
      )}
    </SetupPage>
  );
}

function Person({ person, onErased }: { person: Schema["PersonDataView"]; onErased: () => void }) {
  return (
    <section aria-label="What we have" style={{ maxWidth: 560, marginBottom: 34 }}>
      <h2>{person.names.join(", ") || person.who}</h2>
      <Cap style={{ marginBottom: 10 }}>{[...person.addresses, ...person.numbers].join(", ")}</Cap>
      <Table>
        <tbody>
          {person.held.map((h) => (
            <tr key={h.key}>
              <td>{h.label[0]!.toUpperCase() + h.label.slice(1)}</td>
              <td className="n">{whole(h.count)}</td>
            </tr>
          ))}
        </tbody>
      </Table>
      <p style={{ marginTop: 14 }}>
        <a href={`/api/persons/all.json?who=${encodeURIComponent(person.who)}`} download="person.json">
          Download all of it (JSON)
        </a>
      </p>
      <Forget person={person} onErased={onErased} />
    </section>
  );
}

function Forget({ person, onErased }: { person: Schema["PersonDataView"]; onErased: () => void }) {
  const [typed, setTyped] = useState("");
  const [bar, setBar] = useState(false);
  const [busy, setBusy] = useState(false);
  const [trouble, setTrouble] = useState<ApiError>();
  const refresh = useRefresh();
  const erase = async () => {
    if (busy) return;
    setBusy(true);
    try {
      const done = await must(api.POST("/api/persons/erase", { body: { who: person.who, confirm: typed, bar } }));
      onErased();
      await refresh();
      tell(`Erased: ${count(done.records, "record")}.`);
    } catch (e) {
      setTrouble(e as ApiError);
    } finally {
      setBusy(false);
    }
  };
  return (
    <Erase
      onSubmit={(e) => {
        e.preventDefault();
        void erase();
      }}
    >
      <h2 style={{ margin: 0 }}>Erase them</h2>
      <p style={{ fontSize: 14 }}>
        This cannot be undone. Their leads, story and letters go; rows of lists and posts are emptied where they stand; deals stay without their name. What left this system before, such as mails sent, files downloaded and the mail server's own folders, is not reached.
      </p>
      <TextBox label={`Type ${person.who} again`} value={typed} onChange={setTyped} error={trouble?.message} />
      <Ticks label="Afterwards" options={[{ key: "bar", label: "Never let them in again: their addresses and numbers stay as marks on the do-not-contact list" }]} value={bar ? ["bar"] : []} onChange={(keys) => setBar(keys.length > 0)} />
      <Button look="bad" type="submit" isDisabled={!typed.trim() || busy}>
        {busy ? "Erasing …" : "Erase"}
      </Button>
    </Erase>
  );
}

function Erasures({ list }: { list: Schema["ErasureView"][] }) {
  const { timeZone } = useSession();
  return (
    <section aria-label="Erasures done" style={{ maxWidth: 560 }}>
      <h2>Erasures done</h2>
      <Table>
        <tbody>
          {list.map((e) => (
            <tr key={e.at}>
              <td>{exact(e.at, timeZone)}</td>
              <td>{e.by}</td>
              <td className="n">{count(e.records, "record")}</td>
            </tr>
          ))}
        </tbody>
      </Table>
    </section>
  );
}
