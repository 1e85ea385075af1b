using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace DapperLantern.App.Data.Migrations
{
    /// <inheritdoc />
    public partial class ForeignKeys : Migration
    {
        // Table, column, the table it names, and the key there. See RecordTable.Held.
        private static readonly (string Table, string Column, string To, string Key)[] Ties =
        [
            ("access_token", "person_id", "person", "id"),
            ("access_token", "source", "source", "key"),
            ("account", "owner_id", "person", "id"),
            ("backfill", "form_key", "form", "key"),
            ("backfill", "person_id", "person", "id"),
            ("booking", "meeting_id", "meeting", "id"),
            ("booking", "resource_key", "resource", "key"),
            ("bulk_edit", "person_id", "person", "id"),
            ("campaign", "owner_id", "person", "id"),
            ("campaign_cost", "campaign_key", "campaign", "key"),
            ("campaign_cost", "person_id", "person", "id"),
            ("contact", "account_id", "account", "id"),
            ("contact", "owner_id", "person", "id"),
            ("contact_reading", "person_id", "person", "id"),
            ("deal", "account_id", "account", "id"),
            ("deal", "campaign", "campaign", "key"),
            ("deal", "contact_id", "contact", "id"),
            ("deal", "owner_id", "person", "id"),
            ("deal", "pipeline_key", "pipeline", "key"),
            ("deal", "source", "source", "key"),
            ("deal_span", "owner_id", "person", "id"),
            ("deal_span", "pipeline_key", "pipeline", "key"),
            ("deal_stage", "person_id", "person", "id"),
            ("duplicate", "settled_by", "person", "id"),
            ("edition", "published_by", "person", "id"),
            ("erasure", "person_id", "person", "id"),
            ("form", "source", "source", "key"),
            ("handover", "person_id", "person", "id"),
            ("import", "person_id", "person", "id"),
            ("import", "source", "source", "key"),
            ("lead_file", "person_id", "person", "id"),
            ("lead_view", "owner_id", "person", "id"),
            ("meeting", "lead_id", "lead", "id"),
            ("meeting", "made_by", "person", "id"),
            ("mend", "import_id", "import", "id"),
            ("mend", "person_id", "person", "id"),
            ("record_merge", "person_id", "person", "id"),
            ("record_share", "account_id", "account", "id"),
            ("record_share", "contact_id", "contact", "id"),
            ("record_share", "deal_id", "deal", "id"),
            ("record_share", "lead_id", "lead", "id"),
            ("record_share", "person_id", "person", "id"),
            ("rep_load", "person_id", "person", "id"),
            ("source", "campaign", "campaign", "key"),
            ("stage", "pipeline_key", "pipeline", "key"),
            ("tag", "merged_into", "tag", "key"),
            ("tag", "owner_id", "person", "id"),
            ("turn", "person_id", "person", "id"),
        ];

        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.AlterColumn<string>(
                name: "source",
                table: "import",
                type: "text",
                nullable: true,
                oldClrType: typeof(string),
                oldType: "text");
            migrationBuilder.Sql("update import set source = null where source = ''");
            foreach (var (table, column, to, key) in Ties)
                migrationBuilder.Sql($"alter table {table} add constraint fk_{table}_{column} foreign key ({column}) references {to} ({key}) deferrable initially deferred;");
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            foreach (var (table, column, _, _) in Ties)
                migrationBuilder.Sql($"alter table {table} drop constraint fk_{table}_{column};");
            migrationBuilder.Sql("update import set source = '' where source is null");
            migrationBuilder.AlterColumn<string>(
                name: "source",
                table: "import",
                type: "text",
                nullable: false,
                defaultValue: "",
                oldClrType: typeof(string),
                oldType: "text",
                oldNullable: true);
        }
    }
}
