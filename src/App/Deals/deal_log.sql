-- Changes of a deal's stage, owner, amount and expected close are written into the log and its spans by whatever statement makes them.
create or replace function deal_logged() returns trigger language plpgsql as $$
declare
  moment timestamptz := log_at();
  way text;
begin
  if (old.pipeline_key, old.stage_key) is distinct from (new.pipeline_key, new.stage_key) then
    select counts into way from stage where pipeline_key = new.pipeline_key and key = new.stage_key;
    perform log_event(case when way in ('won', 'lost') then way else 'stage' end, 'deal', new.id,
      jsonb_strip_nulls(jsonb_build_object('pipeline', new.pipeline_key, 'from', old.stage_key, 'to', new.stage_key, 'reason', new.lost_reason, 'lostTo', new.lost_to,
        'opened', case when old.closed_at is not null and new.closed_at is null then true end, 'amount', new.amount, 'currency', new.currency)) || log_why());
  end if;
  if old.expected_close is distinct from new.expected_close then
    perform log_event('close', 'deal', new.id,
      jsonb_strip_nulls(jsonb_build_object('from', old.expected_close, 'to', new.expected_close)) || log_why());
  end if;
  if (old.amount, old.currency) is distinct from (new.amount, new.currency) then
    perform log_event('amount', 'deal', new.id,
      jsonb_build_object('from', old.amount, 'fromCurrency', old.currency, 'to', new.amount, 'currency', new.currency) || log_why());
  end if;
  if old.owner_id is distinct from new.owner_id then
    perform log_event('owner', 'deal', new.id,
      jsonb_strip_nulls(jsonb_build_object('from', old.owner_id, 'to', new.owner_id)) || log_why());
  end if;
  update deal_span set pipeline_key = new.pipeline_key, stage_key = new.stage_key, owner_id = new.owner_id, amount = new.amount, currency = new.currency, expected_close = new.expected_close
    where deal_id = new.id and until is null and since >= moment;
  if not found then
    update deal_span set until = moment where deal_id = new.id and until is null;
    insert into deal_span (deal_id, since, pipeline_key, stage_key, owner_id, amount, currency, expected_close)
      values (new.id, moment, new.pipeline_key, new.stage_key, new.owner_id, new.amount, new.currency, new.expected_close);
  end if;
  return null;
end $$;

create or replace trigger deal_logged after update of pipeline_key, stage_key, owner_id, amount, currency, expected_close on deal for each row
  when ((old.pipeline_key, old.stage_key, old.owner_id, old.amount, old.currency, old.expected_close)
    is distinct from (new.pipeline_key, new.stage_key, new.owner_id, new.amount, new.currency, new.expected_close)) execute function deal_logged();

create or replace function deals_begun() returns trigger language plpgsql as $$
begin
  if coalesce(current_setting('lantern.putting_back', true), '') <> 'yes' then
    insert into deal_span (deal_id, since, pipeline_key, stage_key, owner_id, amount, currency, expected_close)
      select id, created_at, pipeline_key, stage_key, owner_id, amount, currency, expected_close from made;
    insert into event (at, kind, record_kind, record, by_id, cause, cause_id, said)
      select created_at, 'made', 'deal', id, log_by(), log_cause(), log_cause_id(), jsonb_strip_nulls(jsonb_build_object('lead', lead_id, 'pipeline', pipeline_key, 'stage', stage_key, 'amount', amount, 'currency', currency)) from made;
  end if;
  return null;
end $$;

create or replace trigger deal_begun after insert on deal referencing new table as made for each statement execute function deals_begun();
