using System;
using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace DapperLantern.App.Data.Migrations
{
    /// <inheritdoc />
    public partial class Work : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.AddColumn<Guid>(
                name: "next_id",
                table: "task",
                type: "uuid",
                nullable: true);

            migrationBuilder.AddColumn<string>(
                name: "repeat",
                table: "task",
                type: "text",
                nullable: true);

            migrationBuilder.AddColumn<string>(
                name: "detail",
                table: "story_entry",
                type: "jsonb",
                nullable: true);

            migrationBuilder.AddColumn<DateTime>(
                name: "edited_at",
                table: "story_entry",
                type: "timestamp with time zone",
                nullable: true);

            migrationBuilder.AddColumn<bool>(
                name: "pinned",
                table: "story_entry",
                type: "boolean",
                nullable: false,
                defaultValue: false);

            migrationBuilder.AddColumn<DateTime>(
                name: "removed_at",
                table: "story_entry",
                type: "timestamp with time zone",
                nullable: true);

            migrationBuilder.AddColumn<string>(
                name: "was",
                table: "story_entry",
                type: "jsonb",
                nullable: false,
                defaultValueSql: "'[]'::jsonb");

            migrationBuilder.AddColumn<byte[]>(
                name: "calendar_hash",
                table: "person",
                type: "bytea",
                nullable: true);

            migrationBuilder.CreateTable(
                name: "booking",
                columns: table => new
                {
                    meeting_id = table.Column<Guid>(type: "uuid", nullable: false),
                    resource_key = table.Column<string>(type: "text", nullable: false),
                    starts_at = table.Column<DateTime>(type: "timestamp with time zone", nullable: false),
                    ends_at = table.Column<DateTime>(type: "timestamp with time zone", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_booking", x => new { x.meeting_id, x.resource_key });
                });

            migrationBuilder.CreateTable(
                name: "meeting",
                columns: table => new
                {
                    id = table.Column<Guid>(type: "uuid", nullable: false),
                    lead_id = table.Column<Guid>(type: "uuid", nullable: false),
                    starts_at = table.Column<DateTime>(type: "timestamp with time zone", nullable: false),
                    ends_at = table.Column<DateTime>(type: "timestamp with time zone", nullable: false),
                    subject = table.Column<string>(type: "text", nullable: false),
                    place = table.Column<string>(type: "text", nullable: false),
                    goal = table.Column<string>(type: "text", nullable: false),
                    guests = table.Column<string[]>(type: "text[]", nullable: false),
                    people = table.Column<Guid[]>(type: "uuid[]", nullable: false),
                    made_by = table.Column<Guid>(type: "uuid", nullable: false),
                    result = table.Column<string>(type: "text", nullable: true),
                    satisfaction = table.Column<int>(type: "integer", nullable: true),
                    cancelled_at = table.Column<DateTime>(type: "timestamp with time zone", nullable: true),
                    version = table.Column<int>(type: "integer", nullable: false, defaultValue: 1)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_meeting", x => x.id);
                });

            migrationBuilder.CreateTable(
                name: "resource",
                columns: table => new
                {
                    key = table.Column<string>(type: "text", nullable: false),
                    name = table.Column<string>(type: "text", nullable: false),
                    retired = table.Column<bool>(type: "boolean", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_resource", x => x.key);
                });

            migrationBuilder.CreateTable(
                name: "search_word",
                columns: table => new
                {
                    word = table.Column<string>(type: "text", nullable: false),
                    count = table.Column<int>(type: "integer", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_search_word", x => x.word);
                });

            migrationBuilder.CreateIndex(
                name: "ix_person_calendar_hash",
                table: "person",
                column: "calendar_hash",
                unique: true,
                filter: "calendar_hash is not null");

            migrationBuilder.CreateIndex(
                name: "ix_meeting_lead_id",
                table: "meeting",
                column: "lead_id");

            migrationBuilder.CreateIndex(
                name: "ix_meeting_starts_at_ends_at",
                table: "meeting",
                columns: new[] { "starts_at", "ends_at" });
            migrationBuilder.Sql(
                """
                create extension if not exists pg_trgm;
                create extension if not exists btree_gist;

                -- Words as Core/Fields/Folding has them; held to it by a test. The length is bounded, since a word of an index is.
                create function search_words(a text, b text, c text, d text) returns tsvector language sql immutable parallel safe as $fn$
                  select array_to_tsvector(array_remove(regexp_split_to_array(replace(replace(replace(replace(translate(
                    lower(coalesce(a, '') || ' ' || coalesce(b, '') || ' ' || coalesce(c, '') || ' ' || coalesce(d, '')),
                    'àáâãäåçèéêëìíîïðñòóôõöøùúûüýÿāăąćčďđēęěğīłńňőřśşšťůűźżž', 'aaaaaaceeeeiiiidnoooooouuuuyyaaaccddeeegilnnorssstuuzzz'),
                    'æ', 'ae'), 'ß', 'ss'), 'œ', 'oe'), 'þ', 'th'), '[^[:alnum:]]+'), ''))
                $fn$;
                create function search_note(note text) returns tsvector language sql immutable parallel safe as $fn$
                  select search_words(regexp_replace(left(note, 20000), '([[:alnum:]]{100})[[:alnum:]]+', '\1', 'g'), null, null, null)
                $fn$;

                create index ix_lead_search on lead using gin (search_words(first_name, last_name, company, email)) with (gin_pending_list_limit = 1024);
                create index ix_contact_search on contact using gin (search_words(name, email, null, null));
                create index ix_account_search on account using gin (search_words(name, domain, null, null));
                create index ix_deal_search on deal using gin (search_words(name, null, null, null));
                create index ix_story_search on story_entry using gin (search_note(text)) where kind in ('note', 'call', 'call_missed', 'mail', 'message', 'meeting');
                create index ix_lead_phone_end on lead (reverse(phone) text_pattern_ops) where phone is not null;
                create index ix_lead_mobile_end on lead (reverse(mobile) text_pattern_ops) where mobile is not null;
                create index ix_contact_phone_end on contact (reverse(phone) text_pattern_ops) where phone is not null;
                create index ix_search_word_like on search_word using gin (word gin_trgm_ops);

                alter table booking add constraint one_place_at_a_time exclude using gist (resource_key with =, tstzrange(starts_at, ends_at) with &&);

                -- Who looks at a lead is told that it changed; nobody looks at what changes by the thousand.
                create function lead_changed() returns trigger language plpgsql as $fn$
                begin
                  if (select count(*) from (select 1 from changed limit 33) x) <= 32 then
                    perform pg_notify('lead_changed', id::text) from changed;
                  end if;
                  return null;
                end
                $fn$;
                create trigger lead_changed after update on lead referencing new table as changed for each statement execute function lead_changed();
                """
            );
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.Sql(
                """
                drop trigger lead_changed on lead;
                drop function lead_changed;
                drop index ix_lead_search, ix_contact_search, ix_account_search, ix_deal_search, ix_story_search, ix_lead_phone_end, ix_lead_mobile_end, ix_contact_phone_end;
                drop function search_note;
                drop function search_words;
                """
            );
            migrationBuilder.DropTable(
                name: "booking");

            migrationBuilder.DropTable(
                name: "meeting");

            migrationBuilder.DropTable(
                name: "resource");

            migrationBuilder.DropTable(
                name: "search_word");

            migrationBuilder.DropIndex(
                name: "ix_person_calendar_hash",
                table: "person");

            migrationBuilder.DropColumn(
                name: "next_id",
                table: "task");

            migrationBuilder.DropColumn(
                name: "repeat",
                table: "task");

            migrationBuilder.DropColumn(
                name: "detail",
                table: "story_entry");

            migrationBuilder.DropColumn(
                name: "edited_at",
                table: "story_entry");

            migrationBuilder.DropColumn(
                name: "pinned",
                table: "story_entry");

            migrationBuilder.DropColumn(
                name: "removed_at",
                table: "story_entry");

            migrationBuilder.DropColumn(
                name: "was",
                table: "story_entry");

            migrationBuilder.DropColumn(
                name: "calendar_hash",
                table: "person");
        }
    }
}
