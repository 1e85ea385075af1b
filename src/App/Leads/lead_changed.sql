-- Tells open pages that a lead changed. Bulk changes are not told: nobody looks at thousands of leads at once.
create or replace function lead_changed() returns trigger language plpgsql as $$
begin
  if (select count(*) from (select 1 from changed limit 33) x) <= 32 then
    perform pg_notify('lead_changed', id::text) from changed;
  end if;
  return null;
end $$;

create or replace trigger lead_changed after update on lead referencing new table as changed for each statement execute function lead_changed();
