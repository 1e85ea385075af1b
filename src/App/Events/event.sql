-- The log of everything that happens. It only grows: rows are added and read; the one change there is blanks personal values when a person is erased.

-- Makes the months of the log from one day to another. Runs as the owner of the table, since the program itself may not make tables.
create or replace function event_months(first date, last date) returns void language plpgsql security definer set search_path = public, pg_temp as $$
declare month date := date_trunc('month', first);
begin
  perform pg_advisory_xact_lock(hashtext('lantern-event-months'));
  while month <= last loop
    if to_regclass(format('event_%s', to_char(month, 'YYYY_MM'))) is null then
      execute format('create table event_%s partition of event for values from (%L) to (%L)', to_char(month, 'YYYY_MM'), month || ' 00:00+00', (month + interval '1 month')::date || ' 00:00+00');
    end if;
    month := month + interval '1 month';
  end loop;
end $$;

-- Who acts, by what and when, as the transaction was told. A transaction that was told nothing acts now, for nobody.
create or replace function log_at() returns timestamptz language sql stable as $$ select coalesce(nullif(current_setting('lantern.at', true), '')::timestamptz, now()) $$;
create or replace function log_by() returns uuid language sql stable as $$ select nullif(current_setting('lantern.by', true), '')::uuid $$;
create or replace function log_cause() returns text language sql stable as $$ select coalesce(nullif(current_setting('lantern.cause', true), ''), 'unknown') $$;
create or replace function log_cause_id() returns uuid language sql stable as $$ select nullif(current_setting('lantern.cause_id', true), '')::uuid $$;
-- Why: said by the act before it changes a record, for the event that the change makes; and of that what is personal.
create or replace function log_why() returns jsonb language sql stable as $$ select coalesce(nullif(current_setting('lantern.why', true), '')::jsonb, '{}') $$;
create or replace function log_why_personal() returns jsonb language sql stable as $$ select coalesce(nullif(current_setting('lantern.why_personal', true), '')::jsonb, '{}') $$;

-- Adds an event of whoever acts: the one way of triggers that look at a row at a time.
create or replace function log_event(what text, kind_of text, about uuid, said jsonb, personal jsonb default null) returns void language plpgsql as $$
begin
  insert into event (at, kind, record_kind, record, by_id, cause, cause_id, said, personal)
    values (log_at(), what, kind_of, about, log_by(), log_cause(), log_cause_id(), said, nullif(jsonb_strip_nulls(personal), '{}'));
end $$;

create or replace function event_stays() returns trigger language plpgsql as $$
begin
  if tg_op = 'DELETE' or coalesce(current_setting('lantern.blanking', true), '') <> 'yes' then
    raise exception 'the log can only be added to' using errcode = '42501';
  end if;
  return new;
end $$;

create or replace trigger event_stays before update or delete on event for each row execute function event_stays();

-- Blanks what the log says about the person: all personal values of events of these records, and the words elsewhere. It logs that it did. Gives the number of events.
create or replace function event_blank(records uuid[], words text[], mark text) returns integer language plpgsql security definer set search_path = public, pg_temp as $$
declare n integer; more integer; word text;
begin
  perform set_config('lantern.blanking', 'yes', true);
  update event set personal = null where record = any(records) and personal is not null;
  get diagnostics n = row_count;
  foreach word in array words loop
    -- As it stands in JSON, without the quotation marks.
    word := substring(to_json(word)::text from 2 for length(to_json(word)::text) - 2);
    if word <> '' then
      update event set personal = replace(personal::text, word, mark)::jsonb where personal is not null and position(word in personal::text) > 0;
      get diagnostics more = row_count;
      n := n + more;
    end if;
  end loop;
  perform set_config('lantern.blanking', '', true);
  perform log_event('blanked', null, null, jsonb_build_object('events', n));
  return n;
end $$;
