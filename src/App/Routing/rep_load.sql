-- Open leads of each person, kept exact by every change of a lead; a batch counts once.
create or replace function rep_load_in() returns trigger language plpgsql as $$
begin
  insert into rep_load select owner_id, count(*) from fresh where owner_id is not null and state in ('new', 'in_work') group by owner_id order by owner_id
    on conflict (person_id) do update set open = rep_load.open + excluded.open;
  return null;
end $$;

create or replace trigger rep_load_in after insert on lead referencing new table as fresh for each statement execute function rep_load_in();

create or replace function rep_load_out() returns trigger language plpgsql as $$
begin
  update rep_load r set open = r.open - g.n
    from (select owner_id, count(*)::int as n from gone where owner_id is not null and state in ('new', 'in_work') group by owner_id order by owner_id) g
    where r.person_id = g.owner_id;
  return null;
end $$;

create or replace trigger rep_load_out after delete on lead referencing old table as gone for each statement execute function rep_load_out();

create or replace function rep_load_change() returns trigger language plpgsql as $$
begin
  if old.owner_id is not null and old.state in ('new', 'in_work') then
    update rep_load set open = open - 1 where person_id = old.owner_id;
  end if;
  if new.owner_id is not null and new.state in ('new', 'in_work') then
    insert into rep_load values (new.owner_id, 1) on conflict (person_id) do update set open = rep_load.open + 1;
  end if;
  return null;
end $$;

create or replace trigger rep_load_change after update of owner_id, state on lead for each row
  when (old.owner_id is distinct from new.owner_id or old.state is distinct from new.state) execute function rep_load_change();
