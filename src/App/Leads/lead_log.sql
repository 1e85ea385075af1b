-- Changes of a lead's state and owner are written into the log and its spans by whatever statement makes them. A restore is no change: its rows come with their spans.
create or replace function lead_logged() returns trigger language plpgsql as $$
declare moment timestamptz := log_at();
begin
  if old.state is distinct from new.state then
    perform log_event('state', 'lead', new.id,
      jsonb_strip_nulls(jsonb_build_object('from', old.state, 'to', new.state, 'reason', new.state_reason, 'wake', new.wake_at, 'lostTo', new.lost_to)) || log_why(),
      jsonb_build_object('because', new.qualified_because) || log_why_personal());
  end if;
  if old.owner_id is distinct from new.owner_id then
    perform log_event('owner', 'lead', new.id, jsonb_strip_nulls(jsonb_build_object('from', old.owner_id, 'to', new.owner_id, 'due', new.clock_due_at)) || log_why(), log_why_personal());
  end if;
  update lead_span set state = new.state, owner_id = new.owner_id where lead_id = new.id and until is null and since >= moment;
  if not found then
    update lead_span set until = moment where lead_id = new.id and until is null;
    insert into lead_span (lead_id, since, state, owner_id) values (new.id, moment, new.state, new.owner_id);
  end if;
  return null;
end $$;

create or replace trigger lead_logged after update of state, owner_id on lead for each row
  when (old.state is distinct from new.state or old.owner_id is distinct from new.owner_id) execute function lead_logged();

create or replace function leads_begun() returns trigger language plpgsql as $$
begin
  if coalesce(current_setting('lantern.putting_back', true), '') <> 'yes' then
    insert into lead_span (lead_id, since, state, owner_id) select id, created_at, state, owner_id from made;
  end if;
  return null;
end $$;

-- By its name before "lead_owners_here", which may change an owner again.
create or replace trigger lead_begun after insert on lead referencing new table as made for each statement execute function leads_begun();
