-- A finer step holds while the lead is in the state that it belongs to. It is kept meanwhile, so whatever brings the state back brings it back.
create or replace function lead_sub_state() returns trigger language plpgsql as $$
begin
  new.sub_state := case when split_part(new.sub_state_set, ':', 1) = new.state then new.sub_state_set end;
  return new;
end $$;

create or replace trigger lead_sub_state before insert or update of state, sub_state_set, sub_state on lead for each row
  when (new.sub_state_set is not null or new.sub_state is not null) execute function lead_sub_state();
