using System;
using Microsoft.EntityFrameworkCore.Migrations;
using Npgsql.EntityFrameworkCore.PostgreSQL.Metadata;

#nullable disable

namespace DapperLantern.App.Data.Migrations
{
    /// <inheritdoc />
    public partial class Intake : Migration
    {
        // What stood in the old columns, in the shape of the new ones.
        private const string Moved = """
            insert into delivery_chunk (delivery_id, position, bytes) select id, 0, content from delivery;
            update delivery set size = length(content), round = case when state = 'taken' then 2 else 1 end, plan = jsonb_build_object('columns', matching),
              reading = jsonb_build_object('format', 'separated', 'encoding', encoding, 'separator', separator, 'sheet', '', 'headingRow', 1, 'sheets', '[]'::jsonb);
            update arrival set cells = array[raw], round = 1, outcome = case outcome when 'aside' then 'mend' else outcome end,
              problems = nullif(problems, '[]'::jsonb),
              changed = (select jsonb_agg(jsonb_build_object('field', f, 'before', '', 'after', coalesce(values::jsonb->>f, ''))) from jsonb_array_elements_text(changed) f);
            update lead set provenance = coalesce((select jsonb_object_agg(p.key, jsonb_build_object('from', p.value, 'at', created_at))
              from jsonb_each_text(provenance) p where p.value <> source), '{}'::jsonb);
            """;

        // Open leads a person, kept exact by the database whatever changes a lead; a batch counts once.
        private const string Loads = """
            create function rep_load_in() returns trigger language plpgsql as $$ begin
              insert into rep_load select owner_id, count(*) from fresh where owner_id is not null and state in ('new', 'in_work') group by owner_id order by owner_id
              on conflict (person_id) do update set open = rep_load.open + excluded.open; return null; end $$;
            create function rep_load_out() returns trigger language plpgsql as $$ begin
              update rep_load r set open = r.open - g.n from (select owner_id, count(*)::int as n from gone where owner_id is not null and state in ('new', 'in_work') group by owner_id order by owner_id) g
              where r.person_id = g.owner_id; return null; end $$;
            create function rep_load_change() returns trigger language plpgsql as $$ begin
              if old.owner_id is not null and old.state in ('new', 'in_work') then update rep_load set open = open - 1 where person_id = old.owner_id; end if;
              if new.owner_id is not null and new.state in ('new', 'in_work') then
                insert into rep_load values (new.owner_id, 1) on conflict (person_id) do update set open = rep_load.open + 1; end if; return null; end $$;
            create trigger rep_load_in after insert on lead referencing new table as fresh for each statement execute function rep_load_in();
            create trigger rep_load_out after delete on lead referencing old table as gone for each statement execute function rep_load_out();
            create trigger rep_load_change after update of owner_id, state on lead for each row
              when (old.owner_id is distinct from new.owner_id or old.state is distinct from new.state) execute function rep_load_change();
            insert into rep_load select owner_id, count(*) from lead where owner_id is not null and state in ('new', 'in_work') group by owner_id;
            """;

        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropIndex(
                name: "ix_arrival_lead_id",
                table: "arrival");

            migrationBuilder.RenameColumn(
                name: "filled",
                table: "arrival",
                newName: "changed");

            migrationBuilder.RenameColumn(
                name: "rows_aside",
                table: "delivery",
                newName: "rows_mend");

            migrationBuilder.AddColumn<int>(
                name: "tries",
                table: "delivery",
                type: "integer",
                nullable: false,
                defaultValue: 0);

            migrationBuilder.AddColumn<byte[]>(
                name: "headings_hash",
                table: "delivery",
                type: "bytea",
                nullable: false,
                defaultValue: new byte[0]);

            migrationBuilder.CreateSequence(
                name: "people_change");

            migrationBuilder.Sql("select nextval('people_change')");

            migrationBuilder.AddColumn<string>(
                name: "decides",
                table: "lead",
                type: "text",
                nullable: true);

            migrationBuilder.AddColumn<string>(
                name: "department",
                table: "lead",
                type: "text",
                nullable: true);

            migrationBuilder.AddColumn<string>(
                name: "language",
                table: "lead",
                type: "text",
                nullable: true);

            migrationBuilder.AddColumn<string>(
                name: "mobile",
                table: "lead",
                type: "text",
                nullable: true);

            migrationBuilder.AddColumn<DateTime>(
                name: "needed_by",
                table: "lead",
                type: "timestamp with time zone",
                nullable: true);

            migrationBuilder.AddColumn<decimal>(
                name: "revenue",
                table: "lead",
                type: "numeric",
                nullable: true);

            migrationBuilder.AddColumn<string>(
                name: "street",
                table: "lead",
                type: "text",
                nullable: true);

            migrationBuilder.AddColumn<string>(
                name: "constants",
                table: "delivery",
                type: "jsonb",
                nullable: false,
                defaultValueSql: "'{}'::jsonb");

            migrationBuilder.AddColumn<int>(
                name: "done",
                table: "delivery",
                type: "integer",
                nullable: false,
                defaultValue: 0);

            migrationBuilder.AddColumn<int>(
                name: "epoch",
                table: "delivery",
                type: "integer",
                nullable: false,
                defaultValue: 0);

            migrationBuilder.AddColumn<bool>(
                name: "force",
                table: "delivery",
                type: "boolean",
                nullable: false,
                defaultValue: false);

            migrationBuilder.AddColumn<long>(
                name: "knows_up_to",
                table: "delivery",
                type: "bigint",
                nullable: false,
                defaultValue: 0L);

            migrationBuilder.AddColumn<string>(
                name: "plan",
                table: "delivery",
                type: "jsonb",
                nullable: false,
                defaultValueSql: "'{}'::jsonb");

            migrationBuilder.AddColumn<string>(
                name: "policies",
                table: "delivery",
                type: "jsonb",
                nullable: false,
                defaultValueSql: "'{}'::jsonb");

            migrationBuilder.AddColumn<string>(
                name: "reading",
                table: "delivery",
                type: "jsonb",
                nullable: false,
                defaultValueSql: "'{}'::jsonb");

            migrationBuilder.AddColumn<int>(
                name: "round",
                table: "delivery",
                type: "integer",
                nullable: false,
                defaultValue: 0);

            migrationBuilder.AddColumn<int>(
                name: "rows_account",
                table: "delivery",
                type: "integer",
                nullable: false,
                defaultValue: 0);

            migrationBuilder.AddColumn<int>(
                name: "rows_barred",
                table: "delivery",
                type: "integer",
                nullable: false,
                defaultValue: 0);

            migrationBuilder.AddColumn<int>(
                name: "rows_contact",
                table: "delivery",
                type: "integer",
                nullable: false,
                defaultValue: 0);

            migrationBuilder.AddColumn<int>(
                name: "rows_twin",
                table: "delivery",
                type: "integer",
                nullable: false,
                defaultValue: 0);

            migrationBuilder.AddColumn<long>(
                name: "size",
                table: "delivery",
                type: "bigint",
                nullable: false,
                defaultValue: 0L);

            migrationBuilder.AddColumn<DateTime>(
                name: "started_at",
                table: "delivery",
                type: "timestamp with time zone",
                nullable: true);

            migrationBuilder.AddColumn<int>(
                name: "through",
                table: "delivery",
                type: "integer",
                nullable: false,
                defaultValue: 0);

            migrationBuilder.AddColumn<int>(
                name: "to_do",
                table: "delivery",
                type: "integer",
                nullable: false,
                defaultValue: 0);

            migrationBuilder.AddColumn<string>(
                name: "trouble",
                table: "delivery",
                type: "text",
                nullable: true);

            migrationBuilder.AddColumn<string>(
                name: "turns",
                table: "delivery",
                type: "jsonb",
                nullable: false,
                defaultValueSql: "'{}'::jsonb");

            migrationBuilder.AlterColumn<string>(
                name: "values",
                table: "arrival",
                type: "text",
                nullable: false,
                oldClrType: typeof(string),
                oldType: "jsonb");

            migrationBuilder.AlterColumn<string>(
                name: "problems",
                table: "arrival",
                type: "jsonb",
                nullable: true,
                oldClrType: typeof(string),
                oldType: "jsonb");

            migrationBuilder.AddColumn<string>(
                name: "broken",
                table: "arrival",
                type: "text",
                nullable: true);

            migrationBuilder.AddColumn<string[]>(
                name: "cells",
                table: "arrival",
                type: "text[]",
                nullable: false,
                defaultValue: new string[0]);

            migrationBuilder.AddColumn<long>(
                name: "email_key",
                table: "arrival",
                type: "bigint",
                nullable: true);

            migrationBuilder.AddColumn<string>(
                name: "left_because",
                table: "arrival",
                type: "text",
                nullable: true);

            migrationBuilder.AddColumn<long>(
                name: "phone_key",
                table: "arrival",
                type: "bigint",
                nullable: true);

            migrationBuilder.AddColumn<int>(
                name: "round",
                table: "arrival",
                type: "integer",
                nullable: false,
                defaultValue: 0);

            migrationBuilder.CreateTable(
                name: "barred",
                columns: table => new
                {
                    id = table.Column<Guid>(type: "uuid", nullable: false),
                    kind = table.Column<string>(type: "text", nullable: false),
                    hash = table.Column<byte[]>(type: "bytea", nullable: false),
                    hash_key = table.Column<long>(type: "bigint", nullable: false),
                    why = table.Column<string>(type: "text", nullable: false),
                    shown = table.Column<string>(type: "text", nullable: true),
                    at = table.Column<DateTime>(type: "timestamp with time zone", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_barred", x => x.id);
                });

            migrationBuilder.CreateTable(
                name: "capture",
                columns: table => new
                {
                    key = table.Column<Guid>(type: "uuid", nullable: false),
                    lead_id = table.Column<Guid>(type: "uuid", nullable: false),
                    at = table.Column<DateTime>(type: "timestamp with time zone", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_capture", x => x.key);
                });

            migrationBuilder.CreateTable(
                name: "consent",
                columns: table => new
                {
                    id = table.Column<Guid>(type: "uuid", nullable: false),
                    lead_id = table.Column<Guid>(type: "uuid", nullable: true),
                    person_hash = table.Column<byte[]>(type: "bytea", nullable: false),
                    person_key = table.Column<long>(type: "bigint", nullable: false),
                    purpose = table.Column<string>(type: "text", nullable: false),
                    state = table.Column<string>(type: "text", nullable: false),
                    at = table.Column<DateTime>(type: "timestamp with time zone", nullable: false),
                    wording = table.Column<string>(type: "text", nullable: false),
                    place = table.Column<string>(type: "text", nullable: false),
                    delivery_id = table.Column<Guid>(type: "uuid", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_consent", x => x.id);
                });

            migrationBuilder.CreateTable(
                name: "delivery_chunk",
                columns: table => new
                {
                    delivery_id = table.Column<Guid>(type: "uuid", nullable: false),
                    position = table.Column<int>(type: "integer", nullable: false),
                    bytes = table.Column<byte[]>(type: "bytea", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_delivery_chunk", x => new { x.delivery_id, x.position });
                });

            migrationBuilder.CreateTable(
                name: "lead_tag",
                columns: table => new
                {
                    lead_id = table.Column<Guid>(type: "uuid", nullable: false),
                    tag_key = table.Column<string>(type: "text", nullable: false),
                    delivery_id = table.Column<Guid>(type: "uuid", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_lead_tag", x => new { x.lead_id, x.tag_key });
                });

            migrationBuilder.CreateTable(
                name: "mend",
                columns: table => new
                {
                    id = table.Column<long>(type: "bigint", nullable: false)
                        .Annotation("Npgsql:ValueGenerationStrategy", NpgsqlValueGenerationStrategy.IdentityByDefaultColumn),
                    delivery_id = table.Column<Guid>(type: "uuid", nullable: false),
                    row_number = table.Column<int>(type: "integer", nullable: true),
                    field = table.Column<string>(type: "text", nullable: false),
                    found = table.Column<string>(type: "text", nullable: false),
                    put = table.Column<string>(type: "text", nullable: false),
                    at = table.Column<DateTime>(type: "timestamp with time zone", nullable: false),
                    person_id = table.Column<Guid>(type: "uuid", nullable: false),
                    undone_at = table.Column<DateTime>(type: "timestamp with time zone", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_mend", x => x.id);
                });

            migrationBuilder.CreateTable(
                name: "rep_load",
                columns: table => new
                {
                    person_id = table.Column<Guid>(type: "uuid", nullable: false),
                    open = table.Column<int>(type: "integer", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_rep_load", x => x.person_id);
                });

            migrationBuilder.CreateTable(
                name: "tag",
                columns: table => new
                {
                    key = table.Column<string>(type: "text", nullable: false),
                    name = table.Column<string>(type: "text", nullable: false),
                    retired = table.Column<bool>(type: "boolean", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_tag", x => x.key);
                });

            migrationBuilder.Sql(Moved);

            migrationBuilder.DropColumn(
                name: "encoding",
                table: "delivery");

            migrationBuilder.DropColumn(
                name: "matching",
                table: "delivery");

            migrationBuilder.DropColumn(
                name: "separator",
                table: "delivery");

            migrationBuilder.DropColumn(
                name: "raw",
                table: "arrival");

            migrationBuilder.DropColumn(
                name: "content",
                table: "delivery");

            migrationBuilder.Sql(Loads);

            migrationBuilder.CreateIndex(
                name: "ix_lead_mobile",
                table: "lead",
                column: "mobile",
                filter: "mobile is not null");

            migrationBuilder.CreateIndex(
                name: "ix_delivery_headings_hash",
                table: "delivery",
                column: "headings_hash");

            migrationBuilder.CreateIndex(
                name: "ix_delivery_state",
                table: "delivery",
                column: "state",
                filter: "state in ('sifting', 'taking', 'taking_back')");

            migrationBuilder.CreateIndex(
                name: "ix_arrival_delivery_id_outcome_row_number",
                table: "arrival",
                columns: new[] { "delivery_id", "outcome", "row_number" },
                filter: "outcome <> 'new'");

            migrationBuilder.CreateIndex(
                name: "ix_arrival_delivery_id_row_number",
                table: "arrival",
                columns: new[] { "delivery_id", "row_number" },
                filter: "left_because is not null");

            migrationBuilder.CreateIndex(
                name: "ix_arrival_delivery_id_row_number1",
                table: "arrival",
                columns: new[] { "delivery_id", "row_number" },
                filter: "problems is not null");

            migrationBuilder.CreateIndex(
                name: "ix_arrival_email_key",
                table: "arrival",
                column: "email_key",
                filter: "email_key is not null");

            migrationBuilder.CreateIndex(
                name: "ix_arrival_phone_key",
                table: "arrival",
                column: "phone_key",
                filter: "phone_key is not null");

            migrationBuilder.CreateIndex(
                name: "ix_barred_hash_key",
                table: "barred",
                column: "hash_key");

            migrationBuilder.CreateIndex(
                name: "ix_barred_kind_hash",
                table: "barred",
                columns: new[] { "kind", "hash" },
                unique: true);

            migrationBuilder.CreateIndex(
                name: "ix_consent_lead_id",
                table: "consent",
                column: "lead_id",
                filter: "lead_id is not null");

            migrationBuilder.CreateIndex(
                name: "ix_consent_person_key",
                table: "consent",
                column: "person_key");

            migrationBuilder.CreateIndex(
                name: "ix_lead_tag_tag_key",
                table: "lead_tag",
                column: "tag_key");

            migrationBuilder.CreateIndex(
                name: "ix_mend_delivery_id",
                table: "mend",
                column: "delivery_id");
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder) => throw new NotSupportedException("the way back would lose what the new columns hold; restore a backup");
    }
}
