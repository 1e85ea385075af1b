-- Keys and open questions of a record go with it.
create or replace function match_key_out() returns trigger language plpgsql as $$
begin
  delete from match_key k using gone g where k.record_id = g.id;
  delete from duplicate d using gone g where d.state <> 'merged' and d.a = g.id;
  delete from duplicate d using gone g where d.state <> 'merged' and d.b = g.id;
  return null;
end $$;

create or replace trigger match_key_out after delete on lead referencing old table as gone for each statement execute function match_key_out();
create or replace trigger match_key_out after delete on contact referencing old table as gone for each statement execute function match_key_out();
create or replace trigger match_key_out after delete on account referencing old table as gone for each statement execute function match_key_out();
