import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { api, must, type ApiError } from "../api/client";
import { Table } from "../parts/Bench";
import { Button } from "../parts/Button";
import { ChoiceBox, TextBox } from "../parts/Field";
import { moment } from "../parts/format";
import { Empty } from "../parts/States";
import { tell, tellError } from "../parts/Toast";
import { useRefresh, useSession } from "../common/session";
import { Adding, SetupPage } from "./SetupPage";
import { keys } from "../common/keys";

const whys: Record<string, string> = { do_not_contact: "do not contact", competitor: "a competitor", blocked: "blocked" };

/** Persons and domains that do not come in, by any way. Persons are kept as a mark, so that the list outlives their data. */
export function BarredPage() {
  const barred = useQuery({ queryKey: keys.barred, queryFn: () => must(api.GET("/api/barred")) });
  const refresh = useRefresh();
  const { timeZone } = useSession();
  return (
    <SetupPage title="Do not contact" intro="Looked at on every way in. A person is kept as a mark from which the address cannot be read, so the list may outlive their data." query={barred}>
      {(data) => (
        <>
          <Bar />
          {data.length === 0 && <Empty>Nobody is barred.</Empty>}
          {data.length > 0 && (
            <Table $middle>
              <thead>
                <tr>
                  <th>Who</th>
                  <th>Why</th>
                  <th>Since</th>
                  <th />
                </tr>
              </thead>
              <tbody>
                {data.map((b) => (
                  <tr key={b.id}>
                    <td>{b.shown ?? "a person, kept as a mark"}</td>
                    <td>{whys[b.why] ?? b.why}</td>
                    <td>{moment(b.at, timeZone)}</td>
                    <td>
                      <Button look="quiet" onPress={() => void must(api.DELETE("/api/barred/{id}", { params: { path: { id: b.id } } })).then(() => (tell("Barred no longer."), refresh()), tellError)}>
                        Bar no longer
                      </Button>
                    </td>
                  </tr>
                ))}
              </tbody>
            </Table>
          )}
        </>
      )}
    </SetupPage>
  );
}

function Bar() {
  const [value, setValue] = useState("");
  const [kind, setKind] = useState("person");
  const [why, setWhy] = useState("do_not_contact");
  const [trouble, setTrouble] = useState<ApiError>();
  const refresh = useRefresh();
  const bar = async () => {
    try {
      await must(api.POST("/api/barred", { body: { kind, value, why } }));
      setValue("");
      setTrouble(undefined);
      tell("Barred on every way in.");
      await refresh();
    } catch (e) {
      setTrouble(e as ApiError);
    }
  };
  const options = Object.entries(whys).filter(([key]) => kind === "domain" || key === "do_not_contact");
  return (
    <Adding onAdd={bar}>
      <TextBox label={kind === "domain" ? "Web domain" : "Email address, or telephone number with country code"} value={value} onChange={setValue} error={trouble?.message} />
      <ChoiceBox
        label="Who"
        value={kind}
        options={[
          { key: "person", label: "a person" },
          { key: "domain", label: "a domain" },
        ]}
        onChange={(k) => {
          setKind(k);
          if (k === "person") setWhy("do_not_contact");
        }}
      />
      <ChoiceBox label="Why" value={why} options={options.map(([key, label]) => ({ key, label }))} onChange={setWhy} />
      <Button look="main" type="submit" isDisabled={!value.trim()}>
        Bar
      </Button>
    </Adding>
  );
}
