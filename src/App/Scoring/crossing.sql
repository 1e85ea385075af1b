-- Notes each time a lead clears its bars, falls under one, or gives a sign after 90 silent days. A restore is not a change and notes nothing.
create or replace function lead_crossed() returns trigger language plpgsql as $$
declare moment timestamptz := coalesce(new.scored_at, now());
begin
  if coalesce(current_setting('lantern.putting_back', true), '') = 'yes' then return null; end if;
  if new.next_move = 'hand_over' and (tg_op = 'INSERT' or old.next_move <> 'hand_over') then
    insert into crossing (id, lead_id, at, kind, fit, engagement, edition, by_edition)
      values (gen_random_uuid(), new.id, moment, 'cleared', new.fit, new.engagement, new.model_edition, tg_op = 'UPDATE' and old.model_edition is distinct from new.model_edition);
  elsif tg_op = 'UPDATE' and old.next_move = 'hand_over' and new.next_move <> 'hand_over' then
    insert into crossing (id, lead_id, at, kind, fit, engagement, edition, by_edition)
      values (gen_random_uuid(), new.id, least(moment, old.move_until), 'fell', new.fit, new.engagement, new.model_edition, old.model_edition is distinct from new.model_edition);
  end if;
  if tg_op = 'UPDATE' and new.silent_days >= 90 and new.last_sign_at > old.last_sign_at then
    insert into crossing (id, lead_id, at, kind, fit, engagement, edition, by_edition)
      values (gen_random_uuid(), new.id, new.last_sign_at, 'woke', new.fit, new.engagement, new.model_edition, false);
  end if;
  return null;
end $$;

create or replace trigger lead_crossed_in after insert on lead for each row when (new.next_move = 'hand_over') execute function lead_crossed();
create or replace trigger lead_crossed after update of next_move, last_sign_at on lead for each row
  when (old.next_move is distinct from new.next_move or old.last_sign_at is distinct from new.last_sign_at) execute function lead_crossed();

-- One draft of each kind, of the kinds that have one only.
create unique index if not exists ix_edition_one_draft on edition (kind) where state = 'draft' and kind in ('scoring', 'rules');

-- Packed, each look at an element would copy the whole array out of its packed form first.
alter table lead alter column decay set storage plain;
