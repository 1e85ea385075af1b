-- Keeps what is due of leads: waking those on hold, and the time to answer. It follows from the lead's own columns, whatever statement changes them.
create or replace function lead_due() returns trigger language plpgsql as $$
declare
  wakes timestamptz := case when new.state = 'on_hold' then new.wake_at end;
  runs timestamptz := case when new.state = 'new' and new.owner_id is not null and new.clock_ran_out_at is null then new.clock_due_at end;
begin
  if wakes is null then
    delete from due where kind = 'wake' and key = new.id;
  else
    insert into due (kind, key, at) values ('wake', new.id, wakes) on conflict (kind, key) do update set at = excluded.at, tries = 0, problem = null, given_up_at = null;
  end if;
  if runs is null then
    delete from due where kind = 'clock' and key = new.id;
  else
    insert into due (kind, key, at) values ('clock', new.id, runs) on conflict (kind, key) do update set at = excluded.at, tries = 0, problem = null, given_up_at = null;
  end if;
  return null;
end $$;

create or replace trigger lead_due after update of state, owner_id, wake_at, clock_due_at, clock_ran_out_at on lead for each row
  when ((old.state, old.owner_id is null, old.wake_at, old.clock_due_at, old.clock_ran_out_at) is distinct from (new.state, new.owner_id is null, new.wake_at, new.clock_due_at, new.clock_ran_out_at)
    and (old.wake_at is not null or new.wake_at is not null or old.clock_due_at is not null or new.clock_due_at is not null)) execute function lead_due();

create or replace function leads_due() returns trigger language plpgsql as $$
begin
  insert into due (kind, key, at)
    select 'clock', id, clock_due_at from made where state = 'new' and owner_id is not null and clock_due_at is not null and clock_ran_out_at is null
    union all select 'wake', id, wake_at from made where state = 'on_hold' and wake_at is not null
    on conflict (kind, key) do nothing;
  return null;
end $$;

create or replace trigger lead_due_made after insert on lead referencing new table as made for each statement execute function leads_due();

create or replace function leads_not_due() returns trigger language plpgsql as $$
begin
  delete from due d using gone g where d.key = g.id and d.kind in ('wake', 'clock');
  return null;
end $$;

create or replace trigger lead_due_gone after delete on lead referencing old table as gone for each statement execute function leads_not_due();
