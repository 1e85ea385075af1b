-- What follows from events: each that somebody listens to is left for them in "due", in the transaction in which it happens, so that none is lost, whatever commits first.
-- The key of an event as a uuid: its moment in microseconds since 1970 and its number, each eight bytes.
create or replace function event_key(moment timestamptz, number bigint) returns uuid language sql stable as $$
  select (lpad(to_hex((extract(epoch from moment) * 1000000)::bigint), 16, '0') || lpad(to_hex(number), 16, '0'))::uuid
$$;

-- The moment in such a key; of any other uuid some moment, or none that there can be.
create or replace function event_moment(key uuid) returns timestamptz language sql immutable as $$
  select case when left(key::text, 3) = '000' then timestamptz 'epoch' + ('x' || left(replace(key::text, '-', ''), 16))::bit(64)::bigint * interval '1 microsecond' end
$$;

create or replace function event_heard() returns trigger language plpgsql as $$
begin
  insert into due (kind, key, at) select l.listener, event_key(e.at, e.id), e.at from added e join event_listener l on l.kind = e.kind;
  if found then
    perform pg_notify('event_heard', '');
  end if;
  return null;
end $$;

create or replace trigger event_heard after insert on event referencing new table as added for each statement execute function event_heard();
