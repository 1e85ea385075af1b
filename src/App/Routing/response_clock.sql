-- A clock that stops while the owner stays has been answered: the moment and whether it was in time are kept.
create or replace function lead_answered() returns trigger language plpgsql as $$
begin
  if new.answered_at is null and new.owner_id is not distinct from old.owner_id then
    new.answered_at := new.last_touch_at; new.answered_in_time := new.last_touch_at <= old.clock_due_at;
  end if;
  return new;
end $$;

create or replace trigger lead_answered before update of clock_due_at on lead for each row
  when (old.clock_due_at is not null and new.clock_due_at is null and old.owner_id is not null) execute function lead_answered();

create index if not exists ix_lead_household on lead (lower(last_name), lower(postal_code), lower(street)) where company is null and street is not null and postal_code is not null;
create index if not exists ix_lead_clock on lead (clock_due_at) where state = 'new' and clock_due_at is not null and clock_ran_out_at is null;
