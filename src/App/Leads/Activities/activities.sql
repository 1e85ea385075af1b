-- Counts the changes of a task that a calendar shows (SEQUENCE of RFC 5545).
create or replace function task_changed() returns trigger language plpgsql as $$
begin
  new.changes = old.changes + 1;
  return new;
end $$;

create or replace trigger task_changed before update of due_at, subject, owner_id on task for each row
  when (old.due_at is distinct from new.due_at or old.subject is distinct from new.subject or old.owner_id is distinct from new.owner_id) execute function task_changed();

-- A room or a device serves one meeting at a time.
do $$
begin
  if not exists (select 1 from pg_constraint where conname = 'one_place_at_a_time') then
    alter table booking add constraint one_place_at_a_time exclude using gist (resource_key with =, tstzrange(starts_at, ends_at) with &&);
  end if;
end $$;
