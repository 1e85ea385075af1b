using System;
using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace DapperLantern.App.Data.Migrations
{
    /// <inheritdoc />
    public partial class HandingOver : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.RenameIndex(
                name: "ix_lead_last_touch_at_id1",
                table: "lead",
                newName: "ix_lead_last_touch_at_id2");

            migrationBuilder.AddColumn<string>(
                name: "colour",
                table: "stage",
                type: "text",
                nullable: false,
                defaultValue: "slate");

            migrationBuilder.AddColumn<int>(
                name: "days",
                table: "stage",
                type: "integer",
                nullable: true);

            migrationBuilder.AddColumn<string[]>(
                name: "needs",
                table: "stage",
                type: "text[]",
                nullable: false,
                defaultValueSql: "'{}'");

            migrationBuilder.AddColumn<string>(
                name: "currency",
                table: "pipeline",
                type: "text",
                nullable: false,
                defaultValue: "EUR");

            migrationBuilder.AddColumn<string>(
                name: "name_form",
                table: "pipeline",
                type: "text",
                nullable: false,
                defaultValue: "{account}, {product}, {month}");

            migrationBuilder.AddColumn<int>(
                name: "position",
                table: "pipeline",
                type: "integer",
                nullable: false,
                defaultValue: 0);

            migrationBuilder.AddColumn<string>(
                name: "questions",
                table: "pipeline",
                type: "jsonb",
                nullable: false,
                defaultValueSql: "'[]'::jsonb");

            migrationBuilder.AddColumn<string>(
                name: "threshold",
                table: "pipeline",
                type: "jsonb",
                nullable: true);

            migrationBuilder.AddColumn<int>(
                name: "usual_days",
                table: "pipeline",
                type: "integer",
                nullable: false,
                defaultValue: 90);

            migrationBuilder.AddColumn<int>(
                name: "version",
                table: "pipeline",
                type: "integer",
                nullable: false,
                defaultValue: 1);

            migrationBuilder.AddColumn<string>(
                name: "lost_to",
                table: "lead",
                type: "text",
                nullable: true);

            migrationBuilder.AddColumn<string>(
                name: "pipeline",
                table: "lead",
                type: "text",
                nullable: true);

            migrationBuilder.AddColumn<string>(
                name: "qualified_because",
                table: "lead",
                type: "text",
                nullable: true);

            migrationBuilder.AddColumn<string>(
                name: "changes",
                table: "handover",
                type: "jsonb",
                nullable: false,
                defaultValueSql: "'[]'::jsonb");

            migrationBuilder.AddColumn<string>(
                name: "key",
                table: "handover",
                type: "text",
                nullable: true);

            migrationBuilder.AddColumn<bool>(
                name: "made_deal",
                table: "handover",
                type: "boolean",
                nullable: false,
                defaultValue: true);

            migrationBuilder.AddColumn<string>(
                name: "lost_to",
                table: "deal",
                type: "text",
                nullable: true);

            migrationBuilder.AddColumn<int>(
                name: "probability",
                table: "deal",
                type: "integer",
                nullable: true);

            migrationBuilder.AddColumn<string>(
                name: "kind",
                table: "contact",
                type: "text",
                nullable: false,
                defaultValue: "");

            migrationBuilder.AddColumn<Guid>(
                name: "reports_to",
                table: "contact",
                type: "uuid",
                nullable: true);

            migrationBuilder.AddColumn<bool>(
                name: "household",
                table: "account",
                type: "boolean",
                nullable: false,
                defaultValue: false);

            migrationBuilder.AddColumn<string[]>(
                name: "kinds",
                table: "account",
                type: "text[]",
                nullable: false,
                defaultValueSql: "'{}'");

            migrationBuilder.AddColumn<Guid>(
                name: "parent_id",
                table: "account",
                type: "uuid",
                nullable: true);

            migrationBuilder.AddColumn<string[]>(
                name: "segments",
                table: "account",
                type: "text[]",
                nullable: false,
                defaultValueSql: "'{}'");

            migrationBuilder.CreateTable(
                name: "account_address",
                columns: table => new
                {
                    id = table.Column<Guid>(type: "uuid", nullable: false),
                    account_id = table.Column<Guid>(type: "uuid", nullable: false),
                    kind = table.Column<string>(type: "text", nullable: false),
                    street = table.Column<string>(type: "text", nullable: false),
                    postal_code = table.Column<string>(type: "text", nullable: false),
                    city = table.Column<string>(type: "text", nullable: false),
                    region = table.Column<string>(type: "text", nullable: false),
                    country = table.Column<string>(type: "text", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_account_address", x => x.id);
                    table.ForeignKey(
                        name: "fk_account_address_account_account_id",
                        column: x => x.account_id,
                        principalTable: "account",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateTable(
                name: "contact_account",
                columns: table => new
                {
                    id = table.Column<Guid>(type: "uuid", nullable: false),
                    contact_id = table.Column<Guid>(type: "uuid", nullable: false),
                    account_id = table.Column<Guid>(type: "uuid", nullable: false),
                    title = table.Column<string>(type: "text", nullable: false),
                    since = table.Column<DateOnly>(type: "date", nullable: true),
                    until = table.Column<DateOnly>(type: "date", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_contact_account", x => x.id);
                    table.ForeignKey(
                        name: "fk_contact_account_account_account_id",
                        column: x => x.account_id,
                        principalTable: "account",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Cascade);
                    table.ForeignKey(
                        name: "fk_contact_account_contact_contact_id",
                        column: x => x.contact_id,
                        principalTable: "contact",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateTable(
                name: "deal_person",
                columns: table => new
                {
                    id = table.Column<Guid>(type: "uuid", nullable: false),
                    deal_id = table.Column<Guid>(type: "uuid", nullable: false),
                    contact_id = table.Column<Guid>(type: "uuid", nullable: false),
                    role = table.Column<string>(type: "text", nullable: false),
                    at = table.Column<DateTime>(type: "timestamp with time zone", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_deal_person", x => x.id);
                    table.ForeignKey(
                        name: "fk_deal_person_contacts_contact_id",
                        column: x => x.contact_id,
                        principalTable: "contact",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Cascade);
                    table.ForeignKey(
                        name: "fk_deal_person_deal_deal_id",
                        column: x => x.deal_id,
                        principalTable: "deal",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateTable(
                name: "deal_rival",
                columns: table => new
                {
                    deal_id = table.Column<Guid>(type: "uuid", nullable: false),
                    rival = table.Column<string>(type: "text", nullable: false),
                    note = table.Column<string>(type: "text", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_deal_rival", x => new { x.deal_id, x.rival });
                    table.ForeignKey(
                        name: "fk_deal_rival_deal_deal_id",
                        column: x => x.deal_id,
                        principalTable: "deal",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateTable(
                name: "deal_stage",
                columns: table => new
                {
                    id = table.Column<Guid>(type: "uuid", nullable: false),
                    deal_id = table.Column<Guid>(type: "uuid", nullable: false),
                    stage_key = table.Column<string>(type: "text", nullable: false),
                    since = table.Column<DateTime>(type: "timestamp with time zone", nullable: false),
                    person_id = table.Column<Guid>(type: "uuid", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_deal_stage", x => x.id);
                    table.ForeignKey(
                        name: "fk_deal_stage_deal_deal_id",
                        column: x => x.deal_id,
                        principalTable: "deal",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateTable(
                name: "product",
                columns: table => new
                {
                    key = table.Column<string>(type: "text", nullable: false),
                    name = table.Column<string>(type: "text", nullable: false),
                    unit = table.Column<string>(type: "text", nullable: false, defaultValue: "piece"),
                    also_called = table.Column<string[]>(type: "text[]", nullable: false),
                    position = table.Column<int>(type: "integer", nullable: false),
                    retired = table.Column<bool>(type: "boolean", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_product", x => x.key);
                });

            migrationBuilder.CreateTable(
                name: "deal_product",
                columns: table => new
                {
                    id = table.Column<Guid>(type: "uuid", nullable: false),
                    deal_id = table.Column<Guid>(type: "uuid", nullable: false),
                    position = table.Column<int>(type: "integer", nullable: false),
                    product_key = table.Column<string>(type: "text", nullable: false),
                    quantity = table.Column<decimal>(type: "numeric", nullable: false),
                    price = table.Column<decimal>(type: "numeric", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_deal_product", x => x.id);
                    table.ForeignKey(
                        name: "fk_deal_product_deal_deal_id",
                        column: x => x.deal_id,
                        principalTable: "deal",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Cascade);
                    table.ForeignKey(
                        name: "fk_deal_product_product_product_key",
                        column: x => x.product_key,
                        principalTable: "product",
                        principalColumn: "key",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateTable(
                name: "price",
                columns: table => new
                {
                    product_key = table.Column<string>(type: "text", nullable: false),
                    currency = table.Column<string>(type: "text", nullable: false),
                    amount = table.Column<decimal>(type: "numeric", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_price", x => new { x.product_key, x.currency });
                    table.ForeignKey(
                        name: "fk_price_product_product_key",
                        column: x => x.product_key,
                        principalTable: "product",
                        principalColumn: "key",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateIndex(
                name: "ix_lead_last_touch_at_id1",
                table: "lead",
                columns: new[] { "last_touch_at", "id" },
                filter: "state = 'in_work'")
                .Annotation("Npgsql:IndexInclude", new[] { "owner_id" });

            migrationBuilder.CreateIndex(
                name: "ix_handover_account_id",
                table: "handover",
                column: "account_id",
                filter: "account_id is not null");

            migrationBuilder.CreateIndex(
                name: "ix_handover_contact_id",
                table: "handover",
                column: "contact_id");

            migrationBuilder.CreateIndex(
                name: "ix_handover_deal_id",
                table: "handover",
                column: "deal_id");

            migrationBuilder.CreateIndex(
                name: "ix_handover_key",
                table: "handover",
                column: "key",
                unique: true,
                filter: "key is not null");

            migrationBuilder.CreateIndex(
                name: "ix_contact_name_id",
                table: "contact",
                columns: new[] { "name", "id" });

            migrationBuilder.CreateIndex(
                name: "ix_contact_reports_to",
                table: "contact",
                column: "reports_to",
                filter: "reports_to is not null");

            migrationBuilder.CreateIndex(
                name: "ix_account_name_id",
                table: "account",
                columns: new[] { "name", "id" });

            migrationBuilder.CreateIndex(
                name: "ix_account_parent_id",
                table: "account",
                column: "parent_id",
                filter: "parent_id is not null");

            migrationBuilder.CreateIndex(
                name: "ix_account_address_account_id",
                table: "account_address",
                column: "account_id");

            migrationBuilder.CreateIndex(
                name: "ix_contact_account_account_id",
                table: "contact_account",
                column: "account_id");

            migrationBuilder.CreateIndex(
                name: "ix_contact_account_contact_id",
                table: "contact_account",
                column: "contact_id");

            migrationBuilder.CreateIndex(
                name: "ix_deal_person_contact_id",
                table: "deal_person",
                column: "contact_id");

            migrationBuilder.CreateIndex(
                name: "ix_deal_person_deal_id",
                table: "deal_person",
                column: "deal_id");

            migrationBuilder.CreateIndex(
                name: "ix_deal_product_deal_id_position",
                table: "deal_product",
                columns: new[] { "deal_id", "position" });

            migrationBuilder.CreateIndex(
                name: "ix_deal_product_product_key",
                table: "deal_product",
                column: "product_key");

            migrationBuilder.CreateIndex(
                name: "ix_deal_stage_deal_id_since",
                table: "deal_stage",
                columns: new[] { "deal_id", "since" });

            migrationBuilder.AddForeignKey(
                name: "fk_account_account_parent_id",
                table: "account",
                column: "parent_id",
                principalTable: "account",
                principalColumn: "id",
                onDelete: ReferentialAction.SetNull);

            migrationBuilder.AddForeignKey(
                name: "fk_contact_contact_reports_to",
                table: "contact",
                column: "reports_to",
                principalTable: "contact",
                principalColumn: "id",
                onDelete: ReferentialAction.SetNull);

            migrationBuilder.AddColumn<string>(
                name: "carried",
                table: "handover",
                type: "jsonb",
                nullable: true);

            // What a handover changed was kept as the whole record before; now it is kept fact by fact, so that only what it changed is given back.
            migrationBuilder.Sql(
                """
                update handover h set changes = coalesce((
                  select jsonb_agg(jsonb_build_object('record', x.record, 'field', f.key, 'before', x.before->>f.key, 'after', f.value)) from (
                    select 'account' as record, h.account_before as before, a.facts from account a where a.id = h.account_id and h.account_before is not null
                    union all select 'contact', h.contact_before, c.facts from contact c where c.id = h.contact_id and h.contact_before is not null
                  ) x cross join lateral jsonb_each_text(x.facts) f where x.before->>f.key is distinct from f.value), '[]') where taken_back_at is null;
                alter table handover drop column account_before, drop column contact_before;
                update pipeline p set position = x.n from (select key, row_number() over (order by name) - 1 as n from pipeline) x where x.key = p.key;
                update deal set lost_reason = case lost_reason when 'too dear' then 'too_dear' when 'went silent' then 'went_silent' when 'chose another' then 'chose_another' when 'not a match' then 'no_match'
                  when 'we declined' then 'declined' when 'budget moved' then 'budget_moved' else lost_reason end where lost_reason is not null;
                insert into deal_person (id, deal_id, contact_id, role, at) select gen_random_uuid(), d.id, d.contact_id, '', d.created_at from deal d join contact c on c.id = d.contact_id;
                insert into deal_stage (id, deal_id, stage_key, since) select gen_random_uuid(), id, stage_key, stage_since from deal;
                """
            );

            // Bound to the other function when it is made: the upkeep of the server (autovacuum) and the restore of a backup look functions up without a search path and did not find it.
            migrationBuilder.Sql(
                """
                create or replace function search_note(note text) returns tsvector language sql immutable parallel safe
                  return search_words(regexp_replace(left(note, 20000), '([[:alnum:]]{100})[[:alnum:]]+', '\1', 'g'), null, null, null);
                """
            );
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropForeignKey(
                name: "fk_account_account_parent_id",
                table: "account");

            migrationBuilder.DropForeignKey(
                name: "fk_contact_contact_reports_to",
                table: "contact");

            migrationBuilder.DropTable(
                name: "account_address");

            migrationBuilder.DropTable(
                name: "contact_account");

            migrationBuilder.DropTable(
                name: "deal_person");

            migrationBuilder.DropTable(
                name: "deal_product");

            migrationBuilder.DropTable(
                name: "deal_rival");

            migrationBuilder.DropTable(
                name: "deal_stage");

            migrationBuilder.DropTable(
                name: "price");

            migrationBuilder.DropTable(
                name: "product");

            migrationBuilder.DropIndex(
                name: "ix_lead_last_touch_at_id1",
                table: "lead");

            migrationBuilder.DropIndex(
                name: "ix_handover_account_id",
                table: "handover");

            migrationBuilder.DropIndex(
                name: "ix_handover_contact_id",
                table: "handover");

            migrationBuilder.DropIndex(
                name: "ix_handover_deal_id",
                table: "handover");

            migrationBuilder.DropIndex(
                name: "ix_handover_key",
                table: "handover");

            migrationBuilder.DropIndex(
                name: "ix_contact_name_id",
                table: "contact");

            migrationBuilder.DropIndex(
                name: "ix_contact_reports_to",
                table: "contact");

            migrationBuilder.DropIndex(
                name: "ix_account_name_id",
                table: "account");

            migrationBuilder.DropIndex(
                name: "ix_account_parent_id",
                table: "account");

            migrationBuilder.DropColumn(
                name: "colour",
                table: "stage");

            migrationBuilder.DropColumn(
                name: "days",
                table: "stage");

            migrationBuilder.DropColumn(
                name: "needs",
                table: "stage");

            migrationBuilder.DropColumn(
                name: "currency",
                table: "pipeline");

            migrationBuilder.DropColumn(
                name: "name_form",
                table: "pipeline");

            migrationBuilder.DropColumn(
                name: "position",
                table: "pipeline");

            migrationBuilder.DropColumn(
                name: "questions",
                table: "pipeline");

            migrationBuilder.DropColumn(
                name: "threshold",
                table: "pipeline");

            migrationBuilder.DropColumn(
                name: "usual_days",
                table: "pipeline");

            migrationBuilder.DropColumn(
                name: "version",
                table: "pipeline");

            migrationBuilder.DropColumn(
                name: "lost_to",
                table: "lead");

            migrationBuilder.DropColumn(
                name: "pipeline",
                table: "lead");

            migrationBuilder.DropColumn(
                name: "qualified_because",
                table: "lead");

            migrationBuilder.DropColumn(
                name: "changes",
                table: "handover");

            migrationBuilder.DropColumn(
                name: "key",
                table: "handover");

            migrationBuilder.DropColumn(
                name: "made_deal",
                table: "handover");

            migrationBuilder.DropColumn(
                name: "lost_to",
                table: "deal");

            migrationBuilder.DropColumn(
                name: "probability",
                table: "deal");

            migrationBuilder.DropColumn(
                name: "kind",
                table: "contact");

            migrationBuilder.DropColumn(
                name: "reports_to",
                table: "contact");

            migrationBuilder.DropColumn(
                name: "household",
                table: "account");

            migrationBuilder.DropColumn(
                name: "kinds",
                table: "account");

            migrationBuilder.DropColumn(
                name: "parent_id",
                table: "account");

            migrationBuilder.DropColumn(
                name: "segments",
                table: "account");

            migrationBuilder.RenameIndex(
                name: "ix_lead_last_touch_at_id2",
                table: "lead",
                newName: "ix_lead_last_touch_at_id1");

            migrationBuilder.RenameColumn(
                name: "carried",
                table: "handover",
                newName: "contact_before");

            migrationBuilder.AddColumn<string>(
                name: "account_before",
                table: "handover",
                type: "jsonb",
                nullable: true);
        }
    }
}
