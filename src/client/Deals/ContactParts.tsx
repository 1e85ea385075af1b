import { Link } from "react-router";
import type { Schema } from "../api/client";
import { Fold } from "../parts/Fold";
import { day, money } from "../parts/format";
import { Unbroken } from "../parts/Words";
import { Entry } from "./directory";

type Contact = Schema["ContactSheet"];

/** The deals a contact has a part in. */
export const ContactDeals = ({ contact }: { contact: Contact }) => (
  <Fold title={`Deals, ${contact.deals.length}`} open>
    {contact.deals.map((d) => (
      <Entry key={d.id}>
        <span>
          <Link to={`/deals/${d.id}`}>{d.name}</Link>
          <small>{[d.stageName, d.roles.length ? `as ${d.roles.map((r) => r.toLowerCase()).join(", ")}` : null].filter(Boolean).join(", ")}</small>
        </span>
        <Unbroken>{money(d.amount, d.currency)}</Unbroken>
      </Entry>
    ))}
  </Fold>
);

/** What a contact agreed to. */
export const ContactConsents = ({ contact }: { contact: Contact }) => (
  <Fold title="Consent">
    {contact.consents.map((c) => (
      <Entry key={c.purpose}>
        <span>{c.label}</span>
        <span>{c.state === "unknown" ? "not asked" : c.state}</span>
      </Entry>
    ))}
  </Fold>
);

/** The leads a contact was. */
export const ContactLeads = ({ contact }: { contact: Contact }) =>
  contact.leads.length > 0 ? (
    <Fold title={`Leads they were, ${contact.leads.length}`}>
      {contact.leads.map((l) => (
        <Entry key={l.id}>
          <Link to={`/leads/${l.id}`}>
            {l.name}, lead {l.number}
          </Link>
          <span>{day(l.at)}</span>
        </Entry>
      ))}
    </Fold>
  ) : null;
