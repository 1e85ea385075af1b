-- Changes of what the workspace is set up as are written into the log by whatever statement makes them: with the columns that changed, before and after.
create or replace function setup_logged() returns trigger language plpgsql as $$
declare
  -- Secrets, what only counts, and bodies that are kept as editions anyway.
  unsaid constant text[] := array['hash', 'password_hash', 'security_stamp', 'concurrency_stamp', 'calendar_hash', 'version', 'used_at', 'normalized_user_name', 'normalized_email',
    'access_failed_count', 'lockout_end', 'hash_key', 'shown', 'logo', 'mail_secret', 'secret'] || case when tg_table_name in ('edition', 'lead_view', 'form') then array['body', 'draft'] else '{}' end;
  before jsonb := case when tg_op <> 'INSERT' then to_jsonb(old) - unsaid else '{}' end;
  since jsonb := case when tg_op <> 'DELETE' then to_jsonb(new) - unsaid else '{}' end;
  row_is jsonb := case when tg_op = 'DELETE' then before else since end;
  was jsonb;
  becomes jsonb;
  changed jsonb;
  personal boolean;
  what text := 'setup';
  about text;
begin
  select jsonb_object_agg(k, before->k) filter (where before->k is not null and before->k <> 'null'), jsonb_object_agg(k, since->k) filter (where since->k is not null and since->k <> 'null')
    into was, becomes from (select jsonb_object_keys(before || since) as k) x where before->k is distinct from since->k and not (tg_op = 'UPDATE' and k = any(array['id', 'key']));
  if was is null and becomes is null then return null; end if;
  -- What the program keeps there for itself is no set-up.
  if tg_table_name = 'setup_entry' and log_by() is null then return null; end if;
  if tg_table_name = 'person' then
    about := 'person';
    if tg_op <> 'UPDATE' or becomes ?| array['roles', 'here'] then what := 'rights'; end if;
  elsif tg_table_name = 'role' then
    what := 'rights';
  elsif tg_table_name = 'access_token' then
    about := 'token'; what := 'token';
  elsif tg_table_name = 'edition' then
    about := 'edition';
    if becomes->>'state' = 'live' then what := 'published'; end if;
  end if;
  changed := jsonb_build_object('from', was, 'to', becomes);
  personal := tg_table_name in ('person', 'barred', 'absence');
  perform log_event(what, about, case when about is not null then (row_is->>'id')::uuid end,
    jsonb_build_object('what', tg_table_name, 'key', coalesce(row_is->>'key', row_is->>'name', row_is->>'display_name', row_is->>'kind', row_is->>'id', ''), 'done', case tg_op when 'INSERT' then 'added' when 'UPDATE' then 'changed' else 'removed' end)
      || case when personal then '{}' else jsonb_strip_nulls(changed) end,
    case when personal then changed end);
  return null;
end $$;

create or replace trigger absence_logged after insert or update or delete on absence for each row execute function setup_logged();
create or replace trigger access_token_logged after insert or update or delete on access_token for each row execute function setup_logged();
create or replace trigger barred_logged after insert or update or delete on barred for each row execute function setup_logged();
create or replace trigger campaign_logged after insert or update or delete on campaign for each row execute function setup_logged();
create or replace trigger campaign_cost_logged after insert or update or delete on campaign_cost for each row execute function setup_logged();
create or replace trigger company_logged after insert or update or delete on company for each row execute function setup_logged();
create or replace trigger edition_logged after insert or update or delete on edition for each row execute function setup_logged();
create or replace trigger form_logged after insert or update or delete on form for each row execute function setup_logged();
create or replace trigger holiday_logged after insert or update or delete on holiday for each row execute function setup_logged();
create or replace trigger holiday_calendar_logged after insert or update or delete on holiday_calendar for each row execute function setup_logged();
create or replace trigger identity_provider_logged after insert or update or delete on identity_provider for each row execute function setup_logged();
create or replace trigger lead_view_logged after insert or update or delete on lead_view for each row execute function setup_logged();
create or replace trigger person_logged after insert or update or delete on person for each row execute function setup_logged();
create or replace trigger pipeline_logged after insert or update or delete on pipeline for each row execute function setup_logged();
create or replace trigger price_logged after insert or update or delete on price for each row execute function setup_logged();
create or replace trigger product_logged after insert or update or delete on product for each row execute function setup_logged();
create or replace trigger resource_logged after insert or update or delete on resource for each row execute function setup_logged();
create or replace trigger role_logged after insert or update or delete on role for each row execute function setup_logged();
create or replace trigger setup_entry_logged after insert or update or delete on setup_entry for each row execute function setup_logged();
create or replace trigger source_logged after insert or update or delete on source for each row execute function setup_logged();
create or replace trigger stage_logged after insert or update or delete on stage for each row execute function setup_logged();
create or replace trigger tag_logged after insert or update or delete on tag for each row execute function setup_logged();
create or replace trigger team_logged after insert or update or delete on team for each row execute function setup_logged();

create or replace function session_logged() returns trigger language plpgsql as $$
begin
  insert into event (at, kind, record_kind, record, by_id, cause, cause_id, said, personal) values (log_at(), case when tg_op = 'INSERT' then 'signin' else 'signout' end, 'person', new.person_id,
    coalesce(log_by(), new.person_id), case when tg_op = 'INSERT' then 'person' else log_cause() end, log_cause_id(), jsonb_strip_nulls(jsonb_build_object('because', new.ended_because)), jsonb_build_object('address', new.address, 'device', new.agent));
  return null;
end $$;

create or replace trigger session_begun after insert on session for each row execute function session_logged();
create or replace trigger session_ended after update of ended_at on session for each row when (old.ended_at is null and new.ended_at is not null) execute function session_logged();
