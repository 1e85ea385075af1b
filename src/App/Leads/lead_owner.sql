-- An open lead never belongs to a person who left: it waits for an owner instead, and its response clock stops.
create or replace function lead_owner_here() returns trigger language plpgsql as $$
begin
  if not exists (select 1 from person where id = new.owner_id and here) and exists (select 1 from person where id = new.owner_id) then
    new.owner_id := null; new.clock_started_at := null; new.clock_due_at := null;
  end if;
  return new;
end $$;

create or replace trigger lead_owner_here before update of owner_id, state on lead for each row
  when (new.owner_id is not null and new.state in ('new', 'in_work', 'on_hold', 'qualified') and (new.owner_id is distinct from old.owner_id or new.state is distinct from old.state))
  execute function lead_owner_here();

create or replace function lead_owners_here() returns trigger language plpgsql as $$
begin
  if exists (select 1 from person p join made m on m.owner_id = p.id where not p.here and m.state in ('new', 'in_work', 'on_hold', 'qualified')) then
    update lead l set owner_id = null, clock_started_at = null, clock_due_at = null from made m join person p on p.id = m.owner_id
      where l.id = m.id and not p.here and m.state in ('new', 'in_work', 'on_hold', 'qualified');
  end if;
  return null;
end $$;

create or replace trigger lead_owners_here after insert on lead referencing new table as made for each statement execute function lead_owners_here();

create or replace function person_leaves() returns trigger language plpgsql as $$
begin
  update lead set owner_id = null, clock_started_at = null, clock_due_at = null, version = version + 1
    where owner_id = new.id and state in ('new', 'in_work', 'on_hold', 'qualified');
  return null;
end $$;

create or replace trigger person_leaves after update of here on person for each row when (old.here and not new.here) execute function person_leaves();
