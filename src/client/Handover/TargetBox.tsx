import { useState } from "react";
import styled from "styled-components";
import { ChoiceBox } from "../parts/Field";
import { settle, type Sheet, type Targets } from "./landing";

const Top = styled.div`
  display: grid;
  grid-template-columns: minmax(0, 1fr) minmax(220px, 300px);
  gap: 8px 24px;
  align-items: start;
  margin-bottom: 8px;
  p {
    font-size: 13px;
    color: var(--soft);
    margin-top: 2px;
  }
  @media (max-width: 1023px) {
    grid-template-columns: 1fr;
  }
`;

type Props = { kind: "account" | "contact"; sheet: Sheet; targets: Targets; onTargets: (targets: Targets) => void };

/** The record it lands on: one that is there, with the evidence for it, or a new one. */
export function TargetBox({ kind, sheet, targets, onTargets }: Props) {
  // What was found once can be chosen again, also while another layout is shown.
  const [found] = useState(kind === "account" ? sheet.accounts : sheet.contacts);
  const linked = settle(sheet, targets)[kind];
  const one = found.find((f) => f.id === linked);
  const none = kind === "account" && sheet.makes === "none" && !linked;
  const fresh = kind === "account" ? freshAccounts(sheet) : [{ key: "new", label: found.length ? "somebody else: a new contact" : "a new contact" }];
  const options = [...found.map((f) => ({ key: f.id, label: f.name })), ...fresh];
  const value = linked ?? (kind === "contact" ? "new" : sheet.makes === "none" ? "none" : sheet.makes === "household" ? "household" : "new");
  const choose = (key: string) => {
    const { account: _a, newAccount: _n, makes: _m, contact: _c, newContact: _d, ...rest } = { ...targets };
    const kept = kind === "account" ? { contact: targets.contact, newContact: targets.newContact } : { account: targets.account, newAccount: targets.newAccount, makes: targets.makes };
    const set: Targets =
      kind === "contact"
        ? key === "new"
          ? { newContact: true }
          : { contact: key }
        : key === "none"
          ? { makes: "none" }
          : key === "household"
            ? { makes: "household", newAccount: true }
            : key === "new"
              ? { makes: "organisation", newAccount: true }
              : { account: key };
    onTargets({ ...rest, ...kept, ...set });
  };
  return (
    <Top>
      <div>
        <h2>{kind === "account" ? "Account" : "Contact"}</h2>
        <p>
          {one
            ? `${one.name}: ${one.evidence.join("; ")}. ${one.bits.toFixed(1)} bits of evidence${one.same ? "" : ", not enough to be sure"}.`
            : none
              ? "A private person has no account; what belongs to one stays with the contact."
              : kind === "account"
                ? `A new one, ${sheet.accountName ?? ""}.${found.length ? "" : " None like it is there."}`
                : `A new one.${found.length ? "" : " Nobody like this is there."}`}
        </p>
      </div>
      <ChoiceBox hideLabel label={kind === "account" ? "The account it lands on" : "The contact it lands on"} value={value} options={options} onChange={choose} />
    </Top>
  );
}

function freshAccounts(sheet: Sheet) {
  const other = sheet.accounts.length ? "another one: a new account" : "a new account";
  return [
    { key: "new", label: other },
    { key: "household", label: "a household" },
    { key: "none", label: "no account" },
  ];
}
