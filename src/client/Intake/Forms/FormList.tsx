import { useState } from "react";
import { Link, useNavigate } from "react-router";
import { api, must } from "../../api/client";
import { useForm } from "../../common/form";
import { FormBox } from "../../common/FormBox";
import { useMay } from "../../common/session";
import { Button } from "../../parts/Button";
import { DataTable } from "../../parts/DataTable";
import { Overlay } from "../../parts/Dialog";
import { TextBox } from "../../parts/Field";
import { whole } from "../../parts/format";
import { Block, Row } from "../../parts/Layout";
import { Skeleton } from "../../parts/States";
import { Warm } from "../../parts/Words";
import { useForms } from "./queries";

const states: Record<string, string> = { draft: "not published", live: "live", paused: "closed for now" };
const numeric = (label: string) => ({ label, isNumber: true });

/** The forms, with what came through them and what waits. */
export function FormList() {
  const forms = useForms();
  const may = useMay("runIntake");
  const [making, setMaking] = useState(false);
  return (
    <Block as="section" aria-label="Forms" $below={8}>
      <Row $apart>
        <h2>Forms</h2>
        {may && <Button onPress={() => setMaking(true)}>New form</Button>}
      </Row>
      {forms.isPending && <Skeleton rows={3} />}
      {forms.data && (
        <DataTable label="Forms" head={["Form", "State", numeric("Posts in 30 days"), numeric("Waiting")]}>
          {forms.data.map((f) => (
            <tr key={f.key}>
              <td>
                <Link to={`/intake/forms/${f.key}`}>{f.name}</Link>
              </td>
              <td>
                {states[f.state]}
                {f.edition ? `, edition ${f.edition}` : ""}
              </td>
              <td className="n">{whole(f.posts)}</td>
              <td className="n">{f.waiting ? <Warm as="strong">{whole(f.waiting)}</Warm> : "none"}</td>
            </tr>
          ))}
        </DataTable>
      )}
      {making && <NewForm onLeave={() => setMaking(false)} />}
    </Block>
  );
}

function NewForm({ onLeave }: { onLeave: () => void }) {
  const navigate = useNavigate();
  const form = useForm({ called: "the new form", name: "new-form", initial: { name: "" } });
  const make = () => form.send((body) => must(api.POST("/api/forms", { body })), { changes: ["forms"], then: (made) => void navigate(`/intake/forms/${made.key}`) });
  return (
    <Overlay title="New form" isOpen onClose={onLeave} width={420} unsaved={form}>
      <FormBox form={form} words="Begin" onSend={make} isReady={!!form.values.name.trim()}>
        <TextBox label="Name" hint="For instance what it offers. Visitors see a title of its own." autoFocus {...form.bind("name")} />
      </FormBox>
    </Overlay>
  );
}
