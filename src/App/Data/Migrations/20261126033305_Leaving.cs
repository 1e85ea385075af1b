using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace DapperLantern.App.Data.Migrations
{
    /// <inheritdoc />
    public partial class Leaving : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.CreateIndex(
                name: "ix_outbox_person_id_created_at",
                table: "outbox",
                columns: new[] { "person_id", "created_at" },
                filter: "person_id is not null");

            // An open lead is never with somebody who works here no more, whoever writes it: it waits for an owner instead.
            migrationBuilder.Sql(
                """
                update lead l set owner_id = null, clock_started_at = null, clock_due_at = null
                  where owner_id is not null and state in ('new', 'in_work', 'on_hold', 'qualified') and not exists (select 1 from person p where p.id = l.owner_id and p.here);
                update lead l set owner_id = null where owner_id is not null and not exists (select 1 from person p where p.id = l.owner_id);
                alter table lead add constraint fk_lead_owner foreign key (owner_id) references person (id);
                create function lead_owner_here() returns trigger language plpgsql as $$ begin
                  if not exists (select 1 from person where id = new.owner_id and here) and exists (select 1 from person where id = new.owner_id) then
                    new.owner_id := null; new.clock_started_at := null; new.clock_due_at := null; end if;
                  return new; end $$;
                create trigger lead_owner_here before update of owner_id, state on lead for each row
                  when (new.owner_id is not null and new.state in ('new', 'in_work', 'on_hold', 'qualified') and (new.owner_id is distinct from old.owner_id or new.state is distinct from old.state))
                  execute function lead_owner_here();
                create function lead_owners_here() returns trigger language plpgsql as $$ begin
                  if exists (select 1 from person p join made m on m.owner_id = p.id where not p.here and m.state in ('new', 'in_work', 'on_hold', 'qualified')) then
                    update lead l set owner_id = null, clock_started_at = null, clock_due_at = null from made m join person p on p.id = m.owner_id
                      where l.id = m.id and not p.here and m.state in ('new', 'in_work', 'on_hold', 'qualified'); end if;
                  return null; end $$;
                create trigger lead_owners_here after insert on lead referencing new table as made for each statement execute function lead_owners_here();
                create function person_leaves() returns trigger language plpgsql as $$ begin
                  update lead set owner_id = null, clock_started_at = null, clock_due_at = null, version = version + 1
                    where owner_id = new.id and state in ('new', 'in_work', 'on_hold', 'qualified');
                  return null; end $$;
                create trigger person_leaves after update of here on person for each row when (old.here and not new.here) execute function person_leaves();

                -- Who is sent a message is told of it at once where they are at work.
                create function person_told() returns trigger language plpgsql as $$ begin
                  perform pg_notify('person_told', p::text) from (select distinct person_id from told where person_id is not null) x(p);
                  return null; end $$;
                create trigger person_told after insert on outbox referencing new table as told for each statement execute function person_told();
                """
            );
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.Sql(
                "drop trigger person_told on outbox; drop function person_told; drop trigger person_leaves on person; drop function person_leaves; drop trigger lead_owners_here on lead; drop function lead_owners_here; drop trigger lead_owner_here on lead; drop function lead_owner_here; alter table lead drop constraint fk_lead_owner;"
            );
            migrationBuilder.DropIndex(
                name: "ix_outbox_person_id_created_at",
                table: "outbox");
        }
    }
}
