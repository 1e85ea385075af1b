-- A person at work sees a message at once.
create or replace function person_told() returns trigger language plpgsql as $$
begin
  perform pg_notify('person_told', p::text) from (select distinct person_id from told where person_id is not null) x(p);
  return null;
end $$;

create or replace trigger person_told after insert on outbox referencing new table as told for each statement execute function person_told();
