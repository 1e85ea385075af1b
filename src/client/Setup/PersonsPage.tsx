import { useQuery } from "@tanstack/react-query";
import { useSearchParams } from "react-router";
import styled from "styled-components";
import { api, must, type Schema } from "../api/client";
import { keys } from "../common/keys";
import { useForm } from "../common/form";
import { useSession } from "../common/session";
import { Cap, Table } from "../parts/Bench";
import { TextBox } from "../parts/Field";
import { count, exact, whole } from "../parts/format";
import { Block } from "../parts/Layout";
import { Forget } from "./Forget";
import { Adding, SetupPage } from "./SetupPage";

const Addresses = styled(Cap)`
  margin-bottom: 10px;
`;

const width = 560;

/** Somebody who asks for the data we have about them is given it; somebody who asks to be forgotten is. */
export function PersonsPage() {
  const [params, setParams] = useSearchParams();
  const asked = params.get("who") ?? "";
  const done = useQuery({ queryKey: keys.erasures, queryFn: () => must(api.GET("/api/persons/erasures")) });
  const person = useQuery({ queryKey: keys.person(asked), enabled: !!asked, queryFn: () => must(api.GET("/api/persons", { params: { query: { who: asked } } })) });
  const look = (written: string) => (written === asked ? void person.refetch() : setParams(written ? { who: written } : {}));
  return (
    <SetupPage title="One person's data" intro="Somebody may ask what you have about them, and to be forgotten. Find them by email address, or by the number of a lead." query={done}>
      {(erasures) => (
        <>
          <Look key={asked} asked={asked} error={asked && person.error && !person.isFetching ? person.error.message : undefined} isLooking={person.isFetching} onLook={look} />
          {asked && person.data && !person.error && <Person key={person.data.who} person={person.data} onErased={() => setParams({})} />}
          {erasures.length > 0 && <Erasures list={erasures} />}
        </>
      )}
    </SetupPage>
  );
}

function Look({ asked, error, isLooking, onLook }: { asked: string; error?: string; isLooking: boolean; onLook: (written: string) => void }) {
  const form = useForm({ called: "the search", initial: { written: asked }, asks: false });
  const written = form.values.written.trim();
  return (
    <Adding form={{ ...form, busy: isLooking }} words={isLooking ? "Looking" : "Look"} onAdd={() => onLook(written)} isReady={!!written} columns={0}>
      <TextBox label="Email address, or number of a lead" {...form.bind("written")} error={error} />
    </Adding>
  );
}

function Person({ person, onErased }: { person: Schema["PersonDataView"]; onErased: () => void }) {
  return (
    <Block as="section" aria-label="What we have" $width={width} $below={8}>
      <h2>{person.names.join(", ") || person.who}</h2>
      <Addresses>{[...person.addresses, ...person.numbers].join(", ")}</Addresses>
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
      <Block as="p" $above={3}>
        <a href={`/api/persons/all.json?who=${encodeURIComponent(person.who)}`} download="person.json">
          Download all of it (JSON)
        </a>
      </Block>
      <Forget person={person} onErased={onErased} />
    </Block>
  );
}

function Erasures({ list }: { list: Schema["ErasureView"][] }) {
  const { timeZone } = useSession();
  return (
    <Block as="section" aria-label="Erasures done" $width={width}>
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
    </Block>
  );
}
