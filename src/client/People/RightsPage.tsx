import { useState } from "react";
import { Link, useParams } from "react-router";
import { Bench, Head, Inner, Pane } from "../parts/Bench";
import { DataTable, FadedRow } from "../parts/DataTable";
import { FindBox, type Found } from "../parts/FindBox";
import { Block, Plain } from "../parts/Layout";
import { begun, listed, whole } from "../parts/format";
import { ErrorNote, Skeleton } from "../parts/States";
import { Hint, Title, Text } from "../parts/Words";
import { useSearch } from "../Search/queries";
import { isNotWords, isWords, reachWords } from "./reach";
import { useRecordRights, useRights, type PersonRights, type RecordRights } from "./queries";

/** What somebody sees and does, by which role; and why a record is seen, or not. */
export function RightsPage() {
  const { id = "" } = useParams();
  const rights = useRights(id);
  return (
    <Bench>
      <Pane aria-label="Rights">
        <Inner>
          <Head>
            <div>
              <h1>{rights.data ? `What ${rights.data.name} sees and does` : "Rights"}</h1>
              <p>
                {rights.data ? `As ${rights.data.role}. ` : ""}
                <Link to="/setup/roles">All roles</Link> · <Link to="/setup/people">All people</Link>
              </p>
            </div>
          </Head>
          {rights.isPending && <Skeleton />}
          {rights.isError && <ErrorNote error={rights.error} />}
          {rights.data && <Rights rights={rights.data} />}
        </Inner>
      </Pane>
    </Bench>
  );
}

const names: Record<string, string> = { lead: "Leads", account: "Accounts", contact: "Contacts", deal: "Deals" };
const many = 10_000;
const counted = (n: number) => (n > many ? `over ${whole(many)}` : whole(n));
const by = (roles: readonly string[]) => `by ${listed([...roles])}`;

function Rights({ rights }: { rights: PersonRights }) {
  const { name, here, colleagues, reports } = rights;
  return (
    <>
      {!here && <Hint>{name} is not here, so nothing of this can be used.</Hint>}
      <Asking rights={rights} />
      <Block $above={8}>
        <DataTable label="Sees" head={["Sees", "Whose", { label: "Seen", isNumber: true }, { label: "There are", isNumber: true }]} width={760}>
          {rights.sees.map((k) => (
            <tr key={k.kind}>
              <td>{names[k.kind]}</td>
              <td>
                {k.parts.length === 0 ? "none: no role of theirs lets them" : k.parts.map((p) => `${reachWords([p.part])}, ${by(p.roles)}`).join("; ")}
              </td>
              <td className="n">{counted(k.seen)}</td>
              <td className="n">{counted(k.all)}</td>
            </tr>
          ))}
          <tr>
            <td>Contact data</td>
            <td>{rights.contactData.length === 0 ? "none" : rights.contactData.map((p) => `${reachWords([p.part])}, ${by(p.roles)}`).join("; ")}</td>
            <td />
            <td />
          </tr>
        </DataTable>
      </Block>
      {colleagues.length > 0 && <Hint>In a team with {listed(colleagues)}.</Hint>}
      {reports.length > 0 && <Hint>{listed(reports)} report to {name}.</Hint>}
      {rights.hiddenFields.length > 0 && <Hint>Not shown of any record: {listed(rights.hiddenFields)}.</Hint>}
      {rights.lockedFields.length > 0 && <Hint>Shown, but not to be changed: {listed(rights.lockedFields)}.</Hint>}
      <Acts rights={rights} />
    </>
  );
}

function Acts({ rights }: { rights: PersonRights }) {
  return (
    <Block $above={8}>
      <DataTable label="Does" head={["May", "By"]} width={760}>
        {rights.acts.map((a) => (
          <FadedRow key={a.act} $faded={a.roles.length === 0}>
            <td>{a.words}</td>
            <td>{a.roles.length === 0 ? "no role of theirs" : a.roles.join(", ")}</td>
          </FadedRow>
        ))}
      </DataTable>
      <Hint>{rights.ownOnly ? "Works only records of their own." : "Works all records that they see."}</Hint>
    </Block>
  );
}

/** A record, found as anywhere; then why it is seen, or not. */
function Asking({ rights }: { rights: PersonRights }) {
  const [sought, setSought] = useState("");
  const [chosen, setChosen] = useState<(Found & { kind: string; id: string }) | null>(null);
  const { hits, current } = useSearch(sought);
  const found = hits.filter((h) => h.kind in names).map((h) => ({ key: `${h.kind}:${h.id}`, label: h.title, line: `${names[h.kind]?.slice(0, -1) ?? ""}${h.detail ? `, ${h.detail}` : ""}`, kind: h.kind, id: h.id }));
  return (
    <Block $width={760}>
      <Title $below={2}>Why this record, or why not</Title>
      <FindBox label={`A record that ${rights.name} asks about`} value={chosen} onChange={(f) => setChosen(f ? (found.find((x) => x.key === f.key) ?? chosen) : null)} found={found} onSeek={setSought} isSeeking={!current} placeholder="a name, or the number of a lead" none="Nothing by these words." />
      {chosen && <Answer rights={rights} kind={chosen.kind} id={chosen.id} />}
    </Block>
  );
}

function Answer({ rights, kind, id }: { rights: PersonRights; kind: string; id: string }) {
  const answer = useRecordRights(rights.id, kind, id);
  if (answer.isPending) return <Skeleton />;
  if (answer.isError) return <ErrorNote error={answer.error} />;
  const { sees, seesContactData, name, owner, works, worksNot } = answer.data;
  return (
    <Block $above={3} role="status">
      <Text>
        <strong>
          {rights.name} {sees ? "sees" : "does not see"} {name}
        </strong>
        {sees ? `, because ${because(answer.data)}.` : "."} {owner ? `It belongs to ${owner}.` : "Nobody owns it."}
      </Text>
      {!sees && <WhyNot parts={answer.data.parts} />}
      {sees && (
        <Plain $gap={1}>
          <li>{works ? "May work it." : worksNot}</li>
          <li>{seesContactData ? "Is shown its contact data." : "Is not shown its contact data."}</li>
        </Plain>
      )}
    </Block>
  );
}

const because = ({ parts }: RecordRights) => parts.filter((p) => p.isIn && p.roles.length > 0).map((p) => `${isWords(p.part)} (${by(p.roles)})`).join(", and ");

function WhyNot({ parts }: { parts: RecordRights["parts"] }) {
  const given = parts.filter((p) => p.roles.length > 0);
  const would = parts.filter((p) => p.isIn && p.roles.length === 0 && p.part !== "all");
  return (
    <Plain $gap={1}>
      {given.length === 0 && <li>No role of theirs lets them see any of this kind.</li>}
      {given.map((p) => (
        <li key={p.part}>
          {begun(by(p.roles))} they see {reachWords([p.part])}: {isNotWords(p.part)}.
        </li>
      ))}
      {would.map((p) => (
        <li key={p.part}>
          {begun(isWords(p.part))}, but no role of theirs lets them see such.
        </li>
      ))}
    </Plain>
  );
}
