using System;
using Microsoft.EntityFrameworkCore.Migrations;
using Npgsql.EntityFrameworkCore.PostgreSQL.Metadata;

#nullable disable

namespace DapperLantern.App.Data.Migrations
{
    /// <inheritdoc />
    public partial class Schema : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.CreateSequence(
                name: "people_change");

            migrationBuilder.CreateTable(
                name: "access_token",
                columns: table => new
                {
                    id = table.Column<Guid>(type: "uuid", nullable: false),
                    name = table.Column<string>(type: "text", nullable: false),
                    source = table.Column<string>(type: "text", nullable: false),
                    scopes = table.Column<string[]>(type: "text[]", nullable: false),
                    hash = table.Column<byte[]>(type: "bytea", nullable: false),
                    ending = table.Column<string>(type: "text", nullable: false),
                    created_at = table.Column<DateTime>(type: "timestamp with time zone", nullable: false),
                    person_id = table.Column<Guid>(type: "uuid", nullable: false),
                    used_at = table.Column<DateTime>(type: "timestamp with time zone", nullable: true),
                    revoked_at = table.Column<DateTime>(type: "timestamp with time zone", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_access_token", x => x.id);
                });

            migrationBuilder.CreateTable(
                name: "account",
                columns: table => new
                {
                    id = table.Column<Guid>(type: "uuid", nullable: false),
                    name = table.Column<string>(type: "text", nullable: false),
                    household = table.Column<bool>(type: "boolean", nullable: false, defaultValue: false),
                    kinds = table.Column<string[]>(type: "text[]", nullable: false, defaultValueSql: "'{}'"),
                    segments = table.Column<string[]>(type: "text[]", nullable: false, defaultValueSql: "'{}'"),
                    parent_id = table.Column<Guid>(type: "uuid", nullable: true),
                    company_key = table.Column<string>(type: "text", nullable: true),
                    domain = table.Column<string>(type: "text", nullable: true),
                    country = table.Column<string>(type: "text", nullable: true),
                    owner_id = table.Column<Guid>(type: "uuid", nullable: true),
                    created_at = table.Column<DateTime>(type: "timestamp with time zone", nullable: false),
                    facts = table.Column<string>(type: "jsonb", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_account", x => x.id);
                    table.ForeignKey(
                        name: "fk_account_account_parent_id",
                        column: x => x.parent_id,
                        principalTable: "account",
                        principalColumn: "id",
                        onDelete: ReferentialAction.SetNull);
                });

            migrationBuilder.CreateTable(
                name: "arrival",
                columns: table => new
                {
                    import_id = table.Column<Guid>(type: "uuid", nullable: false),
                    row_number = table.Column<int>(type: "integer", nullable: false),
                    cells = table.Column<string[]>(type: "text[]", nullable: false),
                    broken = table.Column<string>(type: "text", nullable: true),
                    values = table.Column<string>(type: "text", nullable: false),
                    problems = table.Column<string>(type: "jsonb", nullable: true),
                    outcome = table.Column<string>(type: "text", nullable: false),
                    reason = table.Column<string>(type: "text", nullable: false),
                    same_as_row = table.Column<int>(type: "integer", nullable: true),
                    lead_id = table.Column<Guid>(type: "uuid", nullable: true),
                    email_key = table.Column<long>(type: "bigint", nullable: true),
                    phone_key = table.Column<long>(type: "bigint", nullable: true),
                    name_key = table.Column<long>(type: "bigint", nullable: true),
                    round = table.Column<int>(type: "integer", nullable: false),
                    changed = table.Column<string>(type: "jsonb", nullable: true),
                    left_because = table.Column<string>(type: "text", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_arrival", x => new { x.import_id, x.row_number });
                });

            migrationBuilder.CreateTable(
                name: "arrival_file",
                columns: table => new
                {
                    id = table.Column<Guid>(type: "uuid", nullable: false),
                    arrival_id = table.Column<Guid>(type: "uuid", nullable: false),
                    position = table.Column<int>(type: "integer", nullable: false),
                    name = table.Column<string>(type: "text", nullable: false),
                    type = table.Column<string>(type: "text", nullable: false),
                    size = table.Column<int>(type: "integer", nullable: false),
                    bytes = table.Column<byte[]>(type: "bytea", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_arrival_file", x => x.id);
                });

            migrationBuilder.CreateTable(
                name: "backfill",
                columns: table => new
                {
                    id = table.Column<Guid>(type: "uuid", nullable: false),
                    form_key = table.Column<string>(type: "text", nullable: false),
                    field = table.Column<string>(type: "text", nullable: false),
                    at = table.Column<DateTime>(type: "timestamp with time zone", nullable: false),
                    person_id = table.Column<Guid>(type: "uuid", nullable: false),
                    leads = table.Column<int>(type: "integer", nullable: false),
                    changes = table.Column<string>(type: "jsonb", nullable: false),
                    undone_at = table.Column<DateTime>(type: "timestamp with time zone", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_backfill", x => x.id);
                });

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
                name: "bulk_edit",
                columns: table => new
                {
                    id = table.Column<Guid>(type: "uuid", nullable: false),
                    person_id = table.Column<Guid>(type: "uuid", nullable: false),
                    act = table.Column<string>(type: "jsonb", nullable: false),
                    words = table.Column<string>(type: "text", nullable: false),
                    own_only = table.Column<bool>(type: "boolean", nullable: false),
                    state = table.Column<string>(type: "text", nullable: false),
                    request_key = table.Column<string>(type: "text", nullable: true),
                    created_at = table.Column<DateTime>(type: "timestamp with time zone", nullable: false),
                    done_at = table.Column<DateTime>(type: "timestamp with time zone", nullable: true),
                    undone_at = table.Column<DateTime>(type: "timestamp with time zone", nullable: true),
                    leads = table.Column<int>(type: "integer", nullable: false),
                    looked = table.Column<int>(type: "integer", nullable: false),
                    changed = table.Column<int>(type: "integer", nullable: false),
                    left_alone = table.Column<int>(type: "integer", nullable: false),
                    restored = table.Column<int>(type: "integer", nullable: false),
                    tries = table.Column<int>(type: "integer", nullable: false),
                    trouble = table.Column<string>(type: "text", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_bulk_edit", x => x.id);
                });

            migrationBuilder.CreateTable(
                name: "campaign",
                columns: table => new
                {
                    key = table.Column<string>(type: "text", nullable: false),
                    name = table.Column<string>(type: "text", nullable: false),
                    kind = table.Column<string>(type: "text", nullable: false, defaultValue: "other"),
                    starts = table.Column<DateOnly>(type: "date", nullable: false),
                    ends = table.Column<DateOnly>(type: "date", nullable: false),
                    budget = table.Column<decimal>(type: "numeric", nullable: true),
                    currency = table.Column<string>(type: "text", nullable: false),
                    target = table.Column<int>(type: "integer", nullable: true),
                    owner_id = table.Column<Guid>(type: "uuid", nullable: true),
                    about = table.Column<string>(type: "text", nullable: false, defaultValue: ""),
                    retired = table.Column<bool>(type: "boolean", nullable: false),
                    version = table.Column<int>(type: "integer", nullable: false, defaultValue: 1)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_campaign", x => x.key);
                });

            migrationBuilder.CreateTable(
                name: "campaign_cost",
                columns: table => new
                {
                    id = table.Column<Guid>(type: "uuid", nullable: false),
                    campaign_key = table.Column<string>(type: "text", nullable: false),
                    spent_on = table.Column<DateOnly>(type: "date", nullable: false),
                    what = table.Column<string>(type: "text", nullable: false),
                    amount = table.Column<decimal>(type: "numeric", nullable: false),
                    person_id = table.Column<Guid>(type: "uuid", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_campaign_cost", x => x.id);
                });

            migrationBuilder.CreateTable(
                name: "campaign_response",
                columns: table => new
                {
                    id = table.Column<Guid>(type: "uuid", nullable: false),
                    campaign_key = table.Column<string>(type: "text", nullable: false),
                    lead_id = table.Column<Guid>(type: "uuid", nullable: false),
                    response = table.Column<string>(type: "text", nullable: false),
                    known = table.Column<bool>(type: "boolean", nullable: false),
                    at = table.Column<DateTime>(type: "timestamp with time zone", nullable: false),
                    detail = table.Column<string>(type: "text", nullable: false),
                    import_id = table.Column<Guid>(type: "uuid", nullable: true),
                    person_id = table.Column<Guid>(type: "uuid", nullable: true),
                    entry = table.Column<Guid>(type: "uuid", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_campaign_response", x => x.id);
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
                    import_id = table.Column<Guid>(type: "uuid", nullable: true),
                    ask = table.Column<Guid>(type: "uuid", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_consent", x => x.id);
                });

            migrationBuilder.CreateTable(
                name: "contact",
                columns: table => new
                {
                    id = table.Column<Guid>(type: "uuid", nullable: false),
                    account_id = table.Column<Guid>(type: "uuid", nullable: true),
                    kind = table.Column<string>(type: "text", nullable: false, defaultValue: ""),
                    reports_to = table.Column<Guid>(type: "uuid", nullable: true),
                    name = table.Column<string>(type: "text", nullable: false),
                    email = table.Column<string>(type: "text", nullable: true),
                    phone = table.Column<string>(type: "text", nullable: true),
                    owner_id = table.Column<Guid>(type: "uuid", nullable: true),
                    created_at = table.Column<DateTime>(type: "timestamp with time zone", nullable: false),
                    facts = table.Column<string>(type: "jsonb", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_contact", x => x.id);
                    table.ForeignKey(
                        name: "fk_contact_contact_reports_to",
                        column: x => x.reports_to,
                        principalTable: "contact",
                        principalColumn: "id",
                        onDelete: ReferentialAction.SetNull);
                });

            migrationBuilder.CreateTable(
                name: "contact_reading",
                columns: table => new
                {
                    person_id = table.Column<Guid>(type: "uuid", nullable: false),
                    hour = table.Column<DateTime>(type: "timestamp with time zone", nullable: false),
                    records = table.Column<int>(type: "integer", nullable: false),
                    told_at = table.Column<DateTime>(type: "timestamp with time zone", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_contact_reading", x => new { x.person_id, x.hour });
                });

            migrationBuilder.CreateTable(
                name: "crossing",
                columns: table => new
                {
                    id = table.Column<Guid>(type: "uuid", nullable: false),
                    lead_id = table.Column<Guid>(type: "uuid", nullable: false),
                    at = table.Column<DateTime>(type: "timestamp with time zone", nullable: false),
                    kind = table.Column<string>(type: "text", nullable: false),
                    fit = table.Column<int>(type: "integer", nullable: false),
                    engagement = table.Column<int>(type: "integer", nullable: false),
                    edition = table.Column<Guid>(type: "uuid", nullable: true),
                    by_edition = table.Column<bool>(type: "boolean", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_crossing", x => x.id);
                });

            migrationBuilder.CreateTable(
                name: "data_protection_key",
                columns: table => new
                {
                    id = table.Column<int>(type: "integer", nullable: false)
                        .Annotation("Npgsql:ValueGenerationStrategy", NpgsqlValueGenerationStrategy.IdentityByDefaultColumn),
                    friendly_name = table.Column<string>(type: "text", nullable: true),
                    xml = table.Column<string>(type: "text", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_data_protection_key", x => x.id);
                });

            migrationBuilder.CreateTable(
                name: "deal",
                columns: table => new
                {
                    id = table.Column<Guid>(type: "uuid", nullable: false),
                    name = table.Column<string>(type: "text", nullable: false),
                    pipeline_key = table.Column<string>(type: "text", nullable: false),
                    stage_key = table.Column<string>(type: "text", nullable: false),
                    amount = table.Column<decimal>(type: "numeric", nullable: false),
                    currency = table.Column<string>(type: "text", nullable: false),
                    expected_close = table.Column<DateOnly>(type: "date", nullable: false),
                    probability = table.Column<int>(type: "integer", nullable: true),
                    account_id = table.Column<Guid>(type: "uuid", nullable: true),
                    contact_id = table.Column<Guid>(type: "uuid", nullable: false),
                    owner_id = table.Column<Guid>(type: "uuid", nullable: true),
                    lead_id = table.Column<Guid>(type: "uuid", nullable: true),
                    source = table.Column<string>(type: "text", nullable: false),
                    campaign = table.Column<string>(type: "text", nullable: true),
                    created_at = table.Column<DateTime>(type: "timestamp with time zone", nullable: false),
                    stage_since = table.Column<DateTime>(type: "timestamp with time zone", nullable: false),
                    closed_at = table.Column<DateTime>(type: "timestamp with time zone", nullable: true),
                    lost_reason = table.Column<string>(type: "text", nullable: true),
                    lost_to = table.Column<string>(type: "text", nullable: true),
                    facts = table.Column<string>(type: "jsonb", nullable: false),
                    version = table.Column<int>(type: "integer", nullable: false, defaultValue: 1)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_deal", x => x.id);
                });

            migrationBuilder.CreateTable(
                name: "duplicate",
                columns: table => new
                {
                    id = table.Column<Guid>(type: "uuid", nullable: false),
                    kind = table.Column<string>(type: "text", nullable: false),
                    a = table.Column<Guid>(type: "uuid", nullable: false),
                    b = table.Column<Guid>(type: "uuid", nullable: false),
                    bits = table.Column<decimal>(type: "numeric", nullable: false),
                    sure = table.Column<bool>(type: "boolean", nullable: false),
                    evidence = table.Column<string>(type: "jsonb", nullable: false),
                    state = table.Column<string>(type: "text", nullable: false),
                    found_at = table.Column<DateTime>(type: "timestamp with time zone", nullable: false),
                    settled_at = table.Column<DateTime>(type: "timestamp with time zone", nullable: true),
                    settled_by = table.Column<Guid>(type: "uuid", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_duplicate", x => x.id);
                });

            migrationBuilder.CreateTable(
                name: "duplicate_due",
                columns: table => new
                {
                    record_id = table.Column<Guid>(type: "uuid", nullable: false),
                    kind = table.Column<string>(type: "text", nullable: false),
                    asked = table.Column<Guid>(type: "uuid", nullable: false, defaultValueSql: "gen_random_uuid()")
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_duplicate_due", x => x.record_id);
                });

            migrationBuilder.CreateTable(
                name: "edition",
                columns: table => new
                {
                    id = table.Column<Guid>(type: "uuid", nullable: false),
                    kind = table.Column<string>(type: "text", nullable: false),
                    number = table.Column<int>(type: "integer", nullable: false),
                    state = table.Column<string>(type: "text", nullable: false),
                    body = table.Column<string>(type: "jsonb", nullable: false),
                    published_at = table.Column<DateTime>(type: "timestamp with time zone", nullable: true),
                    published_by = table.Column<Guid>(type: "uuid", nullable: true),
                    note = table.Column<string>(type: "text", nullable: false, defaultValue: ""),
                    version = table.Column<int>(type: "integer", nullable: false, defaultValue: 1)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_edition", x => x.id);
                });

            migrationBuilder.CreateTable(
                name: "erasure",
                columns: table => new
                {
                    id = table.Column<Guid>(type: "uuid", nullable: false),
                    at = table.Column<DateTime>(type: "timestamp with time zone", nullable: false),
                    person_id = table.Column<Guid>(type: "uuid", nullable: false),
                    counts = table.Column<string>(type: "jsonb", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_erasure", x => x.id);
                });

            migrationBuilder.CreateTable(
                name: "form",
                columns: table => new
                {
                    key = table.Column<string>(type: "text", nullable: false),
                    name = table.Column<string>(type: "text", nullable: false),
                    source = table.Column<string>(type: "text", nullable: false),
                    paused = table.Column<bool>(type: "boolean", nullable: false),
                    draft = table.Column<string>(type: "jsonb", nullable: false),
                    created_at = table.Column<DateTime>(type: "timestamp with time zone", nullable: false),
                    version = table.Column<int>(type: "integer", nullable: false, defaultValue: 1)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_form", x => x.key);
                });

            migrationBuilder.CreateTable(
                name: "handover",
                columns: table => new
                {
                    id = table.Column<Guid>(type: "uuid", nullable: false),
                    lead_id = table.Column<Guid>(type: "uuid", nullable: false),
                    account_id = table.Column<Guid>(type: "uuid", nullable: true),
                    contact_id = table.Column<Guid>(type: "uuid", nullable: false),
                    deal_id = table.Column<Guid>(type: "uuid", nullable: false),
                    made_account = table.Column<bool>(type: "boolean", nullable: false),
                    made_contact = table.Column<bool>(type: "boolean", nullable: false),
                    made_deal = table.Column<bool>(type: "boolean", nullable: false, defaultValue: true),
                    key = table.Column<string>(type: "text", nullable: true),
                    changes = table.Column<string>(type: "jsonb", nullable: false, defaultValueSql: "'[]'::jsonb"),
                    carried = table.Column<string>(type: "jsonb", nullable: true),
                    at = table.Column<DateTime>(type: "timestamp with time zone", nullable: false),
                    person_id = table.Column<Guid>(type: "uuid", nullable: false),
                    taken_back_at = table.Column<DateTime>(type: "timestamp with time zone", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_handover", x => x.id);
                });

            migrationBuilder.CreateTable(
                name: "holiday_calendar",
                columns: table => new
                {
                    key = table.Column<string>(type: "text", nullable: false),
                    name = table.Column<string>(type: "text", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_holiday_calendar", x => x.key);
                });

            migrationBuilder.CreateTable(
                name: "import",
                columns: table => new
                {
                    id = table.Column<Guid>(type: "uuid", nullable: false),
                    file_name = table.Column<string>(type: "text", nullable: false),
                    size = table.Column<long>(type: "bigint", nullable: false),
                    source = table.Column<string>(type: "text", nullable: false),
                    state = table.Column<string>(type: "text", nullable: false),
                    trouble = table.Column<string>(type: "text", nullable: true),
                    tries = table.Column<int>(type: "integer", nullable: false),
                    created_at = table.Column<DateTime>(type: "timestamp with time zone", nullable: false),
                    taken_at = table.Column<DateTime>(type: "timestamp with time zone", nullable: true),
                    taken_back_at = table.Column<DateTime>(type: "timestamp with time zone", nullable: true),
                    person_id = table.Column<Guid>(type: "uuid", nullable: false),
                    content_hash = table.Column<byte[]>(type: "bytea", nullable: false),
                    headings_hash = table.Column<byte[]>(type: "bytea", nullable: false),
                    reading = table.Column<string>(type: "jsonb", nullable: false, defaultValueSql: "'{}'::jsonb"),
                    plan = table.Column<string>(type: "jsonb", nullable: false, defaultValueSql: "'{}'::jsonb"),
                    constants = table.Column<string>(type: "jsonb", nullable: false, defaultValueSql: "'{}'::jsonb"),
                    policies = table.Column<string>(type: "jsonb", nullable: false, defaultValueSql: "'{}'::jsonb"),
                    epoch = table.Column<int>(type: "integer", nullable: false),
                    round = table.Column<int>(type: "integer", nullable: false),
                    through = table.Column<int>(type: "integer", nullable: false),
                    to_do = table.Column<int>(type: "integer", nullable: false),
                    done = table.Column<int>(type: "integer", nullable: false),
                    started_at = table.Column<DateTime>(type: "timestamp with time zone", nullable: true),
                    knows_up_to = table.Column<long>(type: "bigint", nullable: false),
                    turns = table.Column<string>(type: "jsonb", nullable: false, defaultValueSql: "'{}'::jsonb"),
                    force = table.Column<bool>(type: "boolean", nullable: false),
                    rows_taken = table.Column<int>(type: "integer", nullable: false),
                    rows_read = table.Column<int>(type: "integer", nullable: false),
                    rows_new = table.Column<int>(type: "integer", nullable: false),
                    rows_contact = table.Column<int>(type: "integer", nullable: false),
                    rows_account = table.Column<int>(type: "integer", nullable: false),
                    rows_adds = table.Column<int>(type: "integer", nullable: false),
                    rows_duplicate = table.Column<int>(type: "integer", nullable: false),
                    rows_mend = table.Column<int>(type: "integer", nullable: false),
                    rows_barred = table.Column<int>(type: "integer", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_import", x => x.id);
                });

            migrationBuilder.CreateTable(
                name: "import_chunk",
                columns: table => new
                {
                    import_id = table.Column<Guid>(type: "uuid", nullable: false),
                    position = table.Column<int>(type: "integer", nullable: false),
                    bytes = table.Column<byte[]>(type: "bytea", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_import_chunk", x => new { x.import_id, x.position });
                });

            migrationBuilder.CreateTable(
                name: "lead_event",
                columns: table => new
                {
                    id = table.Column<Guid>(type: "uuid", nullable: false),
                    lead_id = table.Column<Guid>(type: "uuid", nullable: false),
                    kind = table.Column<string>(type: "text", nullable: false),
                    at = table.Column<DateTime>(type: "timestamp with time zone", nullable: false),
                    detail = table.Column<string>(type: "text", nullable: false),
                    direction = table.Column<string>(type: "text", nullable: false, defaultValue: "in"),
                    campaign_kind = table.Column<string>(type: "text", nullable: false, defaultValue: ""),
                    import_id = table.Column<Guid>(type: "uuid", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_lead_event", x => x.id);
                });

            migrationBuilder.CreateTable(
                name: "lead_file",
                columns: table => new
                {
                    id = table.Column<Guid>(type: "uuid", nullable: false),
                    lead_id = table.Column<Guid>(type: "uuid", nullable: false),
                    name = table.Column<string>(type: "text", nullable: false),
                    size = table.Column<int>(type: "integer", nullable: false),
                    bytes = table.Column<byte[]>(type: "bytea", nullable: false),
                    at = table.Column<DateTime>(type: "timestamp with time zone", nullable: false),
                    person_id = table.Column<Guid>(type: "uuid", nullable: false),
                    removed_at = table.Column<DateTime>(type: "timestamp with time zone", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_lead_file", x => x.id);
                });

            migrationBuilder.CreateTable(
                name: "lead_tag",
                columns: table => new
                {
                    lead_id = table.Column<Guid>(type: "uuid", nullable: false),
                    tag_key = table.Column<string>(type: "text", nullable: false),
                    import_id = table.Column<Guid>(type: "uuid", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_lead_tag", x => new { x.lead_id, x.tag_key });
                });

            migrationBuilder.CreateTable(
                name: "lead_view",
                columns: table => new
                {
                    id = table.Column<Guid>(type: "uuid", nullable: false),
                    name = table.Column<string>(type: "text", nullable: false),
                    scope = table.Column<string>(type: "text", nullable: false),
                    owner_id = table.Column<Guid>(type: "uuid", nullable: true),
                    teams = table.Column<string[]>(type: "text[]", nullable: false),
                    acts = table.Column<string[]>(type: "text[]", nullable: false),
                    body = table.Column<string>(type: "jsonb", nullable: false),
                    position = table.Column<int>(type: "integer", nullable: false),
                    version = table.Column<int>(type: "integer", nullable: false, defaultValue: 1)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_lead_view", x => x.id);
                });

            migrationBuilder.CreateTable(
                name: "match_key",
                columns: table => new
                {
                    key = table.Column<long>(type: "bigint", nullable: false),
                    record_id = table.Column<Guid>(type: "uuid", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_match_key", x => new { x.key, x.record_id });
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
                name: "mend",
                columns: table => new
                {
                    id = table.Column<long>(type: "bigint", nullable: false)
                        .Annotation("Npgsql:ValueGenerationStrategy", NpgsqlValueGenerationStrategy.IdentityByDefaultColumn),
                    import_id = table.Column<Guid>(type: "uuid", nullable: false),
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
                name: "outbox",
                columns: table => new
                {
                    id = table.Column<Guid>(type: "uuid", nullable: false),
                    kind = table.Column<string>(type: "text", nullable: false),
                    person_id = table.Column<Guid>(type: "uuid", nullable: true),
                    to_email = table.Column<string>(type: "text", nullable: true),
                    language = table.Column<string>(type: "text", nullable: true),
                    lead_id = table.Column<Guid>(type: "uuid", nullable: true),
                    subject = table.Column<string>(type: "text", nullable: false),
                    text = table.Column<string>(type: "text", nullable: false),
                    created_at = table.Column<DateTime>(type: "timestamp with time zone", nullable: false),
                    sent_at = table.Column<DateTime>(type: "timestamp with time zone", nullable: true),
                    tries = table.Column<int>(type: "integer", nullable: false),
                    next_at = table.Column<DateTime>(type: "timestamp with time zone", nullable: true),
                    claimed_at = table.Column<DateTime>(type: "timestamp with time zone", nullable: true),
                    given_up_at = table.Column<DateTime>(type: "timestamp with time zone", nullable: true),
                    problem = table.Column<string>(type: "text", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_outbox", x => x.id);
                });

            migrationBuilder.CreateTable(
                name: "person",
                columns: table => new
                {
                    id = table.Column<Guid>(type: "uuid", nullable: false),
                    display_name = table.Column<string>(type: "text", nullable: false),
                    role = table.Column<string>(type: "text", nullable: false),
                    time_zone = table.Column<string>(type: "text", nullable: false),
                    works_from = table.Column<TimeOnly>(type: "time without time zone", nullable: false),
                    works_to = table.Column<TimeOnly>(type: "time without time zone", nullable: false),
                    works_days = table.Column<int>(type: "integer", nullable: false),
                    holidays = table.Column<string>(type: "text", nullable: true),
                    capacity = table.Column<int>(type: "integer", nullable: false),
                    capacity_today = table.Column<int>(type: "integer", nullable: true),
                    languages = table.Column<string[]>(type: "text[]", nullable: false),
                    skills = table.Column<string[]>(type: "text[]", nullable: false),
                    serves = table.Column<string[]>(type: "text[]", nullable: false),
                    numbers = table.Column<string>(type: "text", nullable: false),
                    here = table.Column<bool>(type: "boolean", nullable: false),
                    calendar_hash = table.Column<byte[]>(type: "bytea", nullable: true),
                    user_name = table.Column<string>(type: "character varying(256)", maxLength: 256, nullable: true),
                    normalized_user_name = table.Column<string>(type: "character varying(256)", maxLength: 256, nullable: true),
                    email = table.Column<string>(type: "character varying(256)", maxLength: 256, nullable: true),
                    normalized_email = table.Column<string>(type: "character varying(256)", maxLength: 256, nullable: true),
                    email_confirmed = table.Column<bool>(type: "boolean", nullable: false),
                    password_hash = table.Column<string>(type: "text", nullable: true),
                    security_stamp = table.Column<string>(type: "text", nullable: true),
                    concurrency_stamp = table.Column<string>(type: "text", nullable: true),
                    phone_number = table.Column<string>(type: "text", nullable: true),
                    phone_number_confirmed = table.Column<bool>(type: "boolean", nullable: false),
                    two_factor_enabled = table.Column<bool>(type: "boolean", nullable: false),
                    lockout_end = table.Column<DateTimeOffset>(type: "timestamp with time zone", nullable: true),
                    lockout_enabled = table.Column<bool>(type: "boolean", nullable: false),
                    access_failed_count = table.Column<int>(type: "integer", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_person", x => x.id);
                });

            migrationBuilder.CreateTable(
                name: "pipeline",
                columns: table => new
                {
                    key = table.Column<string>(type: "text", nullable: false),
                    name = table.Column<string>(type: "text", nullable: false),
                    position = table.Column<int>(type: "integer", nullable: false),
                    name_form = table.Column<string>(type: "text", nullable: false, defaultValue: "{account}, {product}, {month}"),
                    usual_days = table.Column<int>(type: "integer", nullable: false, defaultValue: 90),
                    currency = table.Column<string>(type: "text", nullable: false, defaultValue: "EUR"),
                    questions = table.Column<string>(type: "jsonb", nullable: false, defaultValueSql: "'[]'::jsonb"),
                    threshold = table.Column<string>(type: "jsonb", nullable: true),
                    version = table.Column<int>(type: "integer", nullable: false, defaultValue: 1)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_pipeline", x => x.key);
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
                name: "record_merge",
                columns: table => new
                {
                    id = table.Column<Guid>(type: "uuid", nullable: false),
                    kind = table.Column<string>(type: "text", nullable: false),
                    kept_id = table.Column<Guid>(type: "uuid", nullable: false),
                    now_id = table.Column<Guid>(type: "uuid", nullable: false),
                    gone_id = table.Column<Guid>(type: "uuid", nullable: false),
                    gone = table.Column<string>(type: "jsonb", nullable: false),
                    changes = table.Column<string>(type: "jsonb", nullable: false),
                    moved = table.Column<string>(type: "jsonb", nullable: false),
                    added = table.Column<string>(type: "jsonb", nullable: false),
                    at = table.Column<DateTime>(type: "timestamp with time zone", nullable: false),
                    person_id = table.Column<Guid>(type: "uuid", nullable: false),
                    apart_at = table.Column<DateTime>(type: "timestamp with time zone", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_record_merge", x => x.id);
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
                name: "request_key",
                columns: table => new
                {
                    key = table.Column<byte[]>(type: "bytea", nullable: false),
                    request = table.Column<byte[]>(type: "bytea", nullable: false),
                    at = table.Column<DateTime>(type: "timestamp with time zone", nullable: false),
                    status = table.Column<int>(type: "integer", nullable: true),
                    type = table.Column<string>(type: "text", nullable: true),
                    body = table.Column<byte[]>(type: "bytea", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_request_key", x => x.key);
                });

            migrationBuilder.CreateTable(
                name: "rescore_run",
                columns: table => new
                {
                    id = table.Column<Guid>(type: "uuid", nullable: false),
                    edition = table.Column<Guid>(type: "uuid", nullable: false),
                    started_at = table.Column<DateTime>(type: "timestamp with time zone", nullable: false),
                    since = table.Column<DateTime>(type: "timestamp with time zone", nullable: true),
                    ended_at = table.Column<DateTime>(type: "timestamp with time zone", nullable: true),
                    leads = table.Column<int>(type: "integer", nullable: false),
                    done = table.Column<int>(type: "integer", nullable: false),
                    moved = table.Column<int>(type: "integer", nullable: false),
                    after_id = table.Column<Guid>(type: "uuid", nullable: false),
                    tries = table.Column<int>(type: "integer", nullable: false),
                    trouble = table.Column<string>(type: "text", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_rescore_run", x => x.id);
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
                name: "routing_decision",
                columns: table => new
                {
                    id = table.Column<Guid>(type: "uuid", nullable: false),
                    lead_id = table.Column<Guid>(type: "uuid", nullable: false),
                    at = table.Column<DateTime>(type: "timestamp with time zone", nullable: false),
                    edition = table.Column<Guid>(type: "uuid", nullable: false),
                    rule = table.Column<string>(type: "text", nullable: true),
                    owner_id = table.Column<Guid>(type: "uuid", nullable: true),
                    trace = table.Column<string>(type: "jsonb", nullable: false),
                    moment = table.Column<string>(type: "text", nullable: false, defaultValue: "arrival"),
                    asked = table.Column<string>(type: "jsonb", nullable: false, defaultValueSql: "'{}'")
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_routing_decision", x => x.id);
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

            migrationBuilder.CreateTable(
                name: "setup_entry",
                columns: table => new
                {
                    key = table.Column<string>(type: "text", nullable: false),
                    body = table.Column<string>(type: "jsonb", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_setup_entry", x => x.key);
                });

            migrationBuilder.CreateTable(
                name: "sign_in_failure",
                columns: table => new
                {
                    key = table.Column<byte[]>(type: "bytea", nullable: false),
                    failures = table.Column<int>(type: "integer", nullable: false),
                    last_at = table.Column<DateTime>(type: "timestamp with time zone", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_sign_in_failure", x => x.key);
                });

            migrationBuilder.CreateTable(
                name: "single_arrival",
                columns: table => new
                {
                    id = table.Column<Guid>(type: "uuid", nullable: false),
                    channel = table.Column<string>(type: "text", nullable: false),
                    source = table.Column<string>(type: "text", nullable: false),
                    campaign = table.Column<string>(type: "text", nullable: true),
                    form_key = table.Column<string>(type: "text", nullable: true),
                    form_edition = table.Column<int>(type: "integer", nullable: true),
                    at = table.Column<DateTime>(type: "timestamp with time zone", nullable: false),
                    raw = table.Column<string>(type: "jsonb", nullable: false),
                    labels = table.Column<string>(type: "jsonb", nullable: false),
                    state = table.Column<string>(type: "text", nullable: false),
                    reasons = table.Column<string>(type: "jsonb", nullable: true),
                    outcome = table.Column<string>(type: "text", nullable: false),
                    reason = table.Column<string>(type: "text", nullable: false),
                    lead_id = table.Column<Guid>(type: "uuid", nullable: true),
                    key = table.Column<Guid>(type: "uuid", nullable: true),
                    text_key = table.Column<long>(type: "bigint", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_single_arrival", x => x.id);
                });

            migrationBuilder.CreateTable(
                name: "source",
                columns: table => new
                {
                    key = table.Column<string>(type: "text", nullable: false),
                    name = table.Column<string>(type: "text", nullable: false),
                    channel = table.Column<string>(type: "text", nullable: false),
                    event_kind = table.Column<string>(type: "text", nullable: false),
                    campaign = table.Column<string>(type: "text", nullable: true),
                    retired = table.Column<bool>(type: "boolean", nullable: false),
                    trust = table.Column<int>(type: "integer", nullable: false, defaultValue: 0)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_source", x => x.key);
                });

            migrationBuilder.CreateTable(
                name: "stage",
                columns: table => new
                {
                    pipeline_key = table.Column<string>(type: "text", nullable: false),
                    key = table.Column<string>(type: "text", nullable: false),
                    name = table.Column<string>(type: "text", nullable: false),
                    position = table.Column<int>(type: "integer", nullable: false),
                    probability = table.Column<int>(type: "integer", nullable: false),
                    counts = table.Column<string>(type: "text", nullable: false),
                    needs = table.Column<string[]>(type: "text[]", nullable: false, defaultValueSql: "'{}'"),
                    days = table.Column<int>(type: "integer", nullable: true),
                    colour = table.Column<string>(type: "text", nullable: false, defaultValue: "slate")
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_stage", x => new { x.pipeline_key, x.key });
                });

            migrationBuilder.CreateTable(
                name: "story_entry",
                columns: table => new
                {
                    id = table.Column<Guid>(type: "uuid", nullable: false),
                    at = table.Column<DateTime>(type: "timestamp with time zone", nullable: false),
                    kind = table.Column<string>(type: "text", nullable: false),
                    text = table.Column<string>(type: "text", nullable: false),
                    lead_id = table.Column<Guid>(type: "uuid", nullable: true),
                    contact_id = table.Column<Guid>(type: "uuid", nullable: true),
                    account_id = table.Column<Guid>(type: "uuid", nullable: true),
                    deal_id = table.Column<Guid>(type: "uuid", nullable: true),
                    person_id = table.Column<Guid>(type: "uuid", nullable: true),
                    import_id = table.Column<Guid>(type: "uuid", nullable: true),
                    detail = table.Column<string>(type: "jsonb", nullable: true),
                    pinned = table.Column<bool>(type: "boolean", nullable: false, defaultValue: false),
                    edited_at = table.Column<DateTime>(type: "timestamp with time zone", nullable: true),
                    removed_at = table.Column<DateTime>(type: "timestamp with time zone", nullable: true),
                    was = table.Column<string>(type: "jsonb", nullable: false, defaultValueSql: "'[]'::jsonb")
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_story_entry", x => x.id);
                });

            migrationBuilder.CreateTable(
                name: "tag",
                columns: table => new
                {
                    key = table.Column<string>(type: "text", nullable: false),
                    name = table.Column<string>(type: "text", nullable: false),
                    group_name = table.Column<string>(type: "text", nullable: false, defaultValue: ""),
                    colour = table.Column<string>(type: "text", nullable: false, defaultValue: "slate"),
                    owner_id = table.Column<Guid>(type: "uuid", nullable: true),
                    retired = table.Column<bool>(type: "boolean", nullable: false),
                    merged_into = table.Column<string>(type: "text", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_tag", x => x.key);
                });

            migrationBuilder.CreateTable(
                name: "task",
                columns: table => new
                {
                    id = table.Column<Guid>(type: "uuid", nullable: false),
                    lead_id = table.Column<Guid>(type: "uuid", nullable: true),
                    deal_id = table.Column<Guid>(type: "uuid", nullable: true),
                    contact_id = table.Column<Guid>(type: "uuid", nullable: true),
                    owner_id = table.Column<Guid>(type: "uuid", nullable: false),
                    subject = table.Column<string>(type: "text", nullable: false),
                    due_at = table.Column<DateTime>(type: "timestamp with time zone", nullable: false),
                    done_at = table.Column<DateTime>(type: "timestamp with time zone", nullable: true),
                    urgent = table.Column<bool>(type: "boolean", nullable: false),
                    repeat = table.Column<string>(type: "text", nullable: true),
                    changes = table.Column<int>(type: "integer", nullable: false),
                    next_id = table.Column<Guid>(type: "uuid", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_task", x => x.id);
                });

            migrationBuilder.CreateTable(
                name: "team",
                columns: table => new
                {
                    key = table.Column<string>(type: "text", nullable: false),
                    name = table.Column<string>(type: "text", nullable: false),
                    only_in_hours = table.Column<bool>(type: "boolean", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_team", x => x.key);
                });

            migrationBuilder.CreateTable(
                name: "turn",
                columns: table => new
                {
                    team_key = table.Column<string>(type: "text", nullable: false),
                    person_id = table.Column<Guid>(type: "uuid", nullable: false),
                    position = table.Column<int>(type: "integer", nullable: false),
                    weight = table.Column<int>(type: "integer", nullable: false),
                    credit = table.Column<long>(type: "bigint", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_turn", x => new { x.team_key, x.person_id });
                });

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
                name: "bulk_lead",
                columns: table => new
                {
                    bulk_id = table.Column<Guid>(type: "uuid", nullable: false),
                    position = table.Column<int>(type: "integer", nullable: false),
                    lead_id = table.Column<Guid>(type: "uuid", nullable: false),
                    outcome = table.Column<string>(type: "text", nullable: true),
                    why = table.Column<string>(type: "text", nullable: true),
                    kept = table.Column<string>(type: "jsonb", nullable: true),
                    restored = table.Column<bool>(type: "boolean", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_bulk_lead", x => new { x.bulk_id, x.position });
                    table.ForeignKey(
                        name: "fk_bulk_lead_bulk_edit_bulk_id",
                        column: x => x.bulk_id,
                        principalTable: "bulk_edit",
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
                name: "deal_competitor",
                columns: table => new
                {
                    deal_id = table.Column<Guid>(type: "uuid", nullable: false),
                    competitor = table.Column<string>(type: "text", nullable: false),
                    note = table.Column<string>(type: "text", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_deal_competitor", x => new { x.deal_id, x.competitor });
                    table.ForeignKey(
                        name: "fk_deal_competitor_deal_deal_id",
                        column: x => x.deal_id,
                        principalTable: "deal",
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
                name: "holiday",
                columns: table => new
                {
                    calendar_key = table.Column<string>(type: "text", nullable: false),
                    day = table.Column<DateOnly>(type: "date", nullable: false),
                    name = table.Column<string>(type: "text", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_holiday", x => new { x.calendar_key, x.day });
                    table.ForeignKey(
                        name: "fk_holiday_holiday_calendar_calendar_key",
                        column: x => x.calendar_key,
                        principalTable: "holiday_calendar",
                        principalColumn: "key",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateTable(
                name: "absence",
                columns: table => new
                {
                    id = table.Column<Guid>(type: "uuid", nullable: false),
                    person_id = table.Column<Guid>(type: "uuid", nullable: false),
                    starts = table.Column<DateTime>(type: "timestamp with time zone", nullable: false),
                    ends = table.Column<DateTime>(type: "timestamp with time zone", nullable: false),
                    stand_in_id = table.Column<Guid>(type: "uuid", nullable: true),
                    why = table.Column<string>(type: "text", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_absence", x => x.id);
                    table.CheckConstraint("ck_absence_forward", "ends > starts");
                    table.CheckConstraint("ck_absence_stand_in", "stand_in_id is distinct from person_id");
                    table.ForeignKey(
                        name: "fk_absence_person_person_id",
                        column: x => x.person_id,
                        principalTable: "person",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Cascade);
                    table.ForeignKey(
                        name: "fk_absence_person_stand_in_id",
                        column: x => x.stand_in_id,
                        principalTable: "person",
                        principalColumn: "id",
                        onDelete: ReferentialAction.SetNull);
                });

            migrationBuilder.CreateTable(
                name: "known_device",
                columns: table => new
                {
                    hash = table.Column<byte[]>(type: "bytea", nullable: false),
                    person_id = table.Column<Guid>(type: "uuid", nullable: false),
                    seen_at = table.Column<DateTime>(type: "timestamp with time zone", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_known_device", x => x.hash);
                    table.ForeignKey(
                        name: "fk_known_device_person_person_id",
                        column: x => x.person_id,
                        principalTable: "person",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateTable(
                name: "lead",
                columns: table => new
                {
                    id = table.Column<Guid>(type: "uuid", nullable: false),
                    number = table.Column<int>(type: "integer", nullable: false)
                        .Annotation("Npgsql:ValueGenerationStrategy", NpgsqlValueGenerationStrategy.IdentityAlwaysColumn),
                    state = table.Column<string>(type: "text", nullable: false),
                    source = table.Column<string>(type: "text", nullable: false),
                    campaign = table.Column<string>(type: "text", nullable: true),
                    owner_id = table.Column<Guid>(type: "uuid", nullable: true),
                    import_id = table.Column<Guid>(type: "uuid", nullable: true),
                    company_key = table.Column<string>(type: "text", nullable: true),
                    fit = table.Column<int>(type: "integer", nullable: false),
                    fit_low = table.Column<int>(type: "integer", nullable: false),
                    fit_high = table.Column<int>(type: "integer", nullable: false),
                    engagement = table.Column<int>(type: "integer", nullable: false),
                    next_move = table.Column<string>(type: "text", nullable: false),
                    model_edition = table.Column<Guid>(type: "uuid", nullable: true),
                    decay = table.Column<double[]>(type: "double precision[]", nullable: true),
                    band = table.Column<int>(type: "integer", nullable: false),
                    move_until = table.Column<DateTime>(type: "timestamp with time zone", nullable: true),
                    look_again_at = table.Column<DateTime>(type: "timestamp with time zone", nullable: true),
                    scored_at = table.Column<DateTime>(type: "timestamp with time zone", nullable: true),
                    created_at = table.Column<DateTime>(type: "timestamp with time zone", nullable: false),
                    last_touch_at = table.Column<DateTime>(type: "timestamp with time zone", nullable: false),
                    clock_started_at = table.Column<DateTime>(type: "timestamp with time zone", nullable: true),
                    clock_due_at = table.Column<DateTime>(type: "timestamp with time zone", nullable: true),
                    clock_warned_at = table.Column<DateTime>(type: "timestamp with time zone", nullable: true),
                    clock_ran_out_at = table.Column<DateTime>(type: "timestamp with time zone", nullable: true),
                    clock_passes = table.Column<int>(type: "integer", nullable: false),
                    answered_at = table.Column<DateTime>(type: "timestamp with time zone", nullable: true),
                    answered_in_time = table.Column<bool>(type: "boolean", nullable: true),
                    next_step_at = table.Column<DateTime>(type: "timestamp with time zone", nullable: true),
                    last_sign_at = table.Column<DateTime>(type: "timestamp with time zone", nullable: true),
                    silent_days = table.Column<int>(type: "integer", nullable: true),
                    wake_at = table.Column<DateTime>(type: "timestamp with time zone", nullable: true),
                    state_reason = table.Column<string>(type: "text", nullable: true),
                    qualification = table.Column<string>(type: "jsonb", nullable: false, defaultValueSql: "'{}'::jsonb"),
                    pipeline = table.Column<string>(type: "text", nullable: true),
                    qualified_because = table.Column<string>(type: "text", nullable: true),
                    lost_to = table.Column<string>(type: "text", nullable: true),
                    custom = table.Column<string>(type: "jsonb", nullable: false, defaultValueSql: "'{}'::jsonb"),
                    provenance = table.Column<string>(type: "jsonb", nullable: false, defaultValueSql: "'{}'::jsonb"),
                    version = table.Column<int>(type: "integer", nullable: false, defaultValue: 1),
                    city = table.Column<string>(type: "text", nullable: true),
                    company = table.Column<string>(type: "text", nullable: true),
                    country = table.Column<string>(type: "text", nullable: true),
                    decides = table.Column<string>(type: "text", nullable: true),
                    department = table.Column<string>(type: "text", nullable: true),
                    email = table.Column<string>(type: "text", nullable: true),
                    employees = table.Column<decimal>(type: "numeric", nullable: true),
                    extension = table.Column<string>(type: "text", nullable: true),
                    first_name = table.Column<string>(type: "text", nullable: true),
                    industry = table.Column<string>(type: "text", nullable: true),
                    interest = table.Column<string>(type: "text", nullable: true),
                    job_title = table.Column<string>(type: "text", nullable: true),
                    language = table.Column<string>(type: "text", nullable: true),
                    last_name = table.Column<string>(type: "text", nullable: true),
                    mobile = table.Column<string>(type: "text", nullable: true),
                    needed_by = table.Column<DateTime>(type: "timestamp with time zone", nullable: true),
                    phone = table.Column<string>(type: "text", nullable: true),
                    postal_code = table.Column<string>(type: "text", nullable: true),
                    region = table.Column<string>(type: "text", nullable: true),
                    revenue = table.Column<decimal>(type: "numeric", nullable: true),
                    sites = table.Column<decimal>(type: "numeric", nullable: true),
                    street = table.Column<string>(type: "text", nullable: true),
                    website = table.Column<string>(type: "text", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_lead", x => x.id);
                    table.ForeignKey(
                        name: "fk_lead_owner",
                        column: x => x.owner_id,
                        principalTable: "person",
                        principalColumn: "id");
                });

            migrationBuilder.CreateTable(
                name: "person_claim",
                columns: table => new
                {
                    id = table.Column<int>(type: "integer", nullable: false)
                        .Annotation("Npgsql:ValueGenerationStrategy", NpgsqlValueGenerationStrategy.IdentityByDefaultColumn),
                    user_id = table.Column<Guid>(type: "uuid", nullable: false),
                    claim_type = table.Column<string>(type: "text", nullable: true),
                    claim_value = table.Column<string>(type: "text", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_person_claim", x => x.id);
                    table.ForeignKey(
                        name: "fk_person_claim_person_user_id",
                        column: x => x.user_id,
                        principalTable: "person",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateTable(
                name: "person_login",
                columns: table => new
                {
                    login_provider = table.Column<string>(type: "text", nullable: false),
                    provider_key = table.Column<string>(type: "text", nullable: false),
                    provider_display_name = table.Column<string>(type: "text", nullable: true),
                    user_id = table.Column<Guid>(type: "uuid", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_person_login", x => new { x.login_provider, x.provider_key });
                    table.ForeignKey(
                        name: "fk_person_login_person_user_id",
                        column: x => x.user_id,
                        principalTable: "person",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateTable(
                name: "person_token",
                columns: table => new
                {
                    user_id = table.Column<Guid>(type: "uuid", nullable: false),
                    login_provider = table.Column<string>(type: "text", nullable: false),
                    name = table.Column<string>(type: "text", nullable: false),
                    value = table.Column<string>(type: "text", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_person_token", x => new { x.user_id, x.login_provider, x.name });
                    table.ForeignKey(
                        name: "fk_person_token_person_user_id",
                        column: x => x.user_id,
                        principalTable: "person",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateTable(
                name: "session",
                columns: table => new
                {
                    id = table.Column<Guid>(type: "uuid", nullable: false),
                    person_id = table.Column<Guid>(type: "uuid", nullable: false),
                    role = table.Column<string>(type: "text", nullable: false),
                    started_at = table.Column<DateTime>(type: "timestamp with time zone", nullable: false),
                    seen_at = table.Column<DateTime>(type: "timestamp with time zone", nullable: false),
                    ends_at = table.Column<DateTime>(type: "timestamp with time zone", nullable: false),
                    stays = table.Column<bool>(type: "boolean", nullable: false),
                    address = table.Column<string>(type: "text", nullable: false),
                    agent = table.Column<string>(type: "text", nullable: false),
                    ended_at = table.Column<DateTime>(type: "timestamp with time zone", nullable: true),
                    ended_because = table.Column<string>(type: "text", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_session", x => x.id);
                    table.ForeignKey(
                        name: "fk_session_person_person_id",
                        column: x => x.person_id,
                        principalTable: "person",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Cascade);
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
                name: "ix_absence_person_id_ends",
                table: "absence",
                columns: new[] { "person_id", "ends" });

            migrationBuilder.CreateIndex(
                name: "ix_absence_stand_in_id",
                table: "absence",
                column: "stand_in_id");

            migrationBuilder.CreateIndex(
                name: "ix_access_token_hash",
                table: "access_token",
                column: "hash",
                unique: true);

            migrationBuilder.CreateIndex(
                name: "ix_account_company_key",
                table: "account",
                column: "company_key");

            migrationBuilder.CreateIndex(
                name: "ix_account_domain",
                table: "account",
                column: "domain");

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
                name: "ix_arrival_email_key",
                table: "arrival",
                column: "email_key",
                filter: "email_key is not null");

            migrationBuilder.CreateIndex(
                name: "ix_arrival_import_id_outcome_row_number",
                table: "arrival",
                columns: new[] { "import_id", "outcome", "row_number" },
                filter: "outcome <> 'new'");

            migrationBuilder.CreateIndex(
                name: "ix_arrival_import_id_row_number",
                table: "arrival",
                columns: new[] { "import_id", "row_number" },
                filter: "left_because is not null");

            migrationBuilder.CreateIndex(
                name: "ix_arrival_import_id_row_number1",
                table: "arrival",
                columns: new[] { "import_id", "row_number" },
                filter: "problems is not null");

            migrationBuilder.CreateIndex(
                name: "ix_arrival_name_key",
                table: "arrival",
                column: "name_key",
                filter: "name_key is not null");

            migrationBuilder.CreateIndex(
                name: "ix_arrival_phone_key",
                table: "arrival",
                column: "phone_key",
                filter: "phone_key is not null");

            migrationBuilder.CreateIndex(
                name: "ix_arrival_file_arrival_id_position",
                table: "arrival_file",
                columns: new[] { "arrival_id", "position" });

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
                name: "ix_bulk_edit_created_at",
                table: "bulk_edit",
                column: "created_at",
                descending: new bool[0]);

            migrationBuilder.CreateIndex(
                name: "ix_bulk_edit_person_id_request_key",
                table: "bulk_edit",
                columns: new[] { "person_id", "request_key" },
                unique: true,
                filter: "request_key is not null");

            migrationBuilder.CreateIndex(
                name: "ix_bulk_edit_state",
                table: "bulk_edit",
                column: "state",
                filter: "state in ('doing', 'undoing')");

            migrationBuilder.CreateIndex(
                name: "ix_bulk_lead_lead_id",
                table: "bulk_lead",
                column: "lead_id");

            migrationBuilder.CreateIndex(
                name: "ix_campaign_cost_campaign_key_spent_on",
                table: "campaign_cost",
                columns: new[] { "campaign_key", "spent_on" });

            migrationBuilder.CreateIndex(
                name: "ix_campaign_response_campaign_key_response_lead_id_known",
                table: "campaign_response",
                columns: new[] { "campaign_key", "response", "lead_id", "known" });

            migrationBuilder.CreateIndex(
                name: "ix_campaign_response_lead_id",
                table: "campaign_response",
                column: "lead_id");

            migrationBuilder.CreateIndex(
                name: "ix_consent_ask",
                table: "consent",
                column: "ask",
                filter: "ask is not null");

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
                name: "ix_contact_account_id",
                table: "contact",
                column: "account_id");

            migrationBuilder.CreateIndex(
                name: "ix_contact_email",
                table: "contact",
                column: "email");

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
                name: "ix_contact_account_account_id",
                table: "contact_account",
                column: "account_id");

            migrationBuilder.CreateIndex(
                name: "ix_contact_account_contact_id",
                table: "contact_account",
                column: "contact_id");

            migrationBuilder.CreateIndex(
                name: "ix_crossing_lead_id_at",
                table: "crossing",
                columns: new[] { "lead_id", "at" });

            migrationBuilder.CreateIndex(
                name: "ix_deal_account_id",
                table: "deal",
                column: "account_id");

            migrationBuilder.CreateIndex(
                name: "ix_deal_contact_id",
                table: "deal",
                column: "contact_id");

            migrationBuilder.CreateIndex(
                name: "ix_deal_lead_id",
                table: "deal",
                column: "lead_id");

            migrationBuilder.CreateIndex(
                name: "ix_deal_pipeline_key_stage_key",
                table: "deal",
                columns: new[] { "pipeline_key", "stage_key" });

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

            migrationBuilder.CreateIndex(
                name: "ix_duplicate_a_b",
                table: "duplicate",
                columns: new[] { "a", "b" },
                unique: true);

            migrationBuilder.CreateIndex(
                name: "ix_duplicate_b",
                table: "duplicate",
                column: "b");

            migrationBuilder.CreateIndex(
                name: "ix_duplicate_kind_bits",
                table: "duplicate",
                columns: new[] { "kind", "bits" },
                filter: "state = 'open'");

            migrationBuilder.CreateIndex(
                name: "ix_edition_kind",
                table: "edition",
                column: "kind",
                unique: true,
                filter: "state = 'live'");

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
                name: "ix_handover_lead_id",
                table: "handover",
                column: "lead_id",
                unique: true,
                filter: "taken_back_at is null");

            migrationBuilder.CreateIndex(
                name: "ix_import_content_hash",
                table: "import",
                column: "content_hash");

            migrationBuilder.CreateIndex(
                name: "ix_import_headings_hash",
                table: "import",
                column: "headings_hash");

            migrationBuilder.CreateIndex(
                name: "ix_import_state",
                table: "import",
                column: "state",
                filter: "state in ('sifting', 'taking', 'taking_back')");

            migrationBuilder.CreateIndex(
                name: "ix_known_device_person_id",
                table: "known_device",
                column: "person_id");

            migrationBuilder.CreateIndex(
                name: "ix_lead_answered_at",
                table: "lead",
                column: "answered_at",
                filter: "answered_at is not null");

            migrationBuilder.CreateIndex(
                name: "ix_lead_band_id",
                table: "lead",
                columns: new[] { "band", "id" },
                descending: new bool[0],
                filter: "band > 0")
                .Annotation("Npgsql:IndexInclude", new[] { "owner_id", "look_again_at" });

            migrationBuilder.CreateIndex(
                name: "ix_lead_band_id1",
                table: "lead",
                columns: new[] { "band", "id" },
                descending: new bool[0],
                filter: "next_move = 'hand_over' and state in ('new', 'in_work')")
                .Annotation("Npgsql:IndexInclude", new[] { "state", "owner_id", "move_until" });

            migrationBuilder.CreateIndex(
                name: "ix_lead_clock_due_at",
                table: "lead",
                column: "clock_due_at",
                filter: "clock_due_at is not null");

            migrationBuilder.CreateIndex(
                name: "ix_lead_company_key",
                table: "lead",
                column: "company_key");

            migrationBuilder.CreateIndex(
                name: "ix_lead_created_at_id",
                table: "lead",
                columns: new[] { "created_at", "id" },
                descending: new bool[0]);

            migrationBuilder.CreateIndex(
                name: "ix_lead_created_at_id1",
                table: "lead",
                columns: new[] { "created_at", "id" },
                descending: new bool[0],
                filter: "owner_id is null")
                .Annotation("Npgsql:IndexInclude", new[] { "state", "owner_id" });

            migrationBuilder.CreateIndex(
                name: "ix_lead_email",
                table: "lead",
                column: "email");

            migrationBuilder.CreateIndex(
                name: "ix_lead_import_id",
                table: "lead",
                column: "import_id");

            migrationBuilder.CreateIndex(
                name: "ix_lead_last_sign_at_id",
                table: "lead",
                columns: new[] { "last_sign_at", "id" },
                descending: new bool[0],
                filter: "silent_days >= 90");

            migrationBuilder.CreateIndex(
                name: "ix_lead_last_touch_at_id",
                table: "lead",
                columns: new[] { "last_touch_at", "id" },
                descending: new bool[0]);

            migrationBuilder.CreateIndex(
                name: "ix_lead_last_touch_at_id1",
                table: "lead",
                columns: new[] { "last_touch_at", "id" },
                filter: "state = 'in_work'")
                .Annotation("Npgsql:IndexInclude", new[] { "owner_id" });

            migrationBuilder.CreateIndex(
                name: "ix_lead_last_touch_at_id2",
                table: "lead",
                columns: new[] { "last_touch_at", "id" },
                descending: new bool[0],
                filter: "next_step_at is null and state = 'in_work'");

            migrationBuilder.CreateIndex(
                name: "ix_lead_look_again_at",
                table: "lead",
                column: "look_again_at",
                filter: "look_again_at is not null");

            migrationBuilder.CreateIndex(
                name: "ix_lead_mobile",
                table: "lead",
                column: "mobile",
                filter: "mobile is not null");

            migrationBuilder.CreateIndex(
                name: "ix_lead_number",
                table: "lead",
                column: "number",
                unique: true);

            migrationBuilder.CreateIndex(
                name: "ix_lead_owner_id_clock_due_at",
                table: "lead",
                columns: new[] { "owner_id", "clock_due_at" },
                filter: "state in ('new', 'in_work', 'on_hold', 'qualified')")
                .Annotation("Npgsql:IndexInclude", new[] { "state" });

            migrationBuilder.CreateIndex(
                name: "ix_lead_phone",
                table: "lead",
                column: "phone");

            migrationBuilder.CreateIndex(
                name: "ix_lead_wake_at",
                table: "lead",
                column: "wake_at",
                filter: "wake_at is not null");

            migrationBuilder.CreateIndex(
                name: "ix_lead_event_lead_id_at",
                table: "lead_event",
                columns: new[] { "lead_id", "at" });

            migrationBuilder.CreateIndex(
                name: "ix_lead_file_lead_id",
                table: "lead_file",
                column: "lead_id");

            migrationBuilder.CreateIndex(
                name: "ix_lead_tag_tag_key",
                table: "lead_tag",
                column: "tag_key");

            migrationBuilder.CreateIndex(
                name: "ix_lead_view_owner_id",
                table: "lead_view",
                column: "owner_id");

            migrationBuilder.CreateIndex(
                name: "ix_match_key_record_id",
                table: "match_key",
                column: "record_id");

            migrationBuilder.CreateIndex(
                name: "ix_meeting_lead_id",
                table: "meeting",
                column: "lead_id");

            migrationBuilder.CreateIndex(
                name: "ix_meeting_starts_at_ends_at",
                table: "meeting",
                columns: new[] { "starts_at", "ends_at" });

            migrationBuilder.CreateIndex(
                name: "ix_mend_import_id",
                table: "mend",
                column: "import_id");

            migrationBuilder.CreateIndex(
                name: "ix_outbox_created_at",
                table: "outbox",
                column: "created_at",
                filter: "sent_at is null");

            migrationBuilder.CreateIndex(
                name: "ix_outbox_given_up_at",
                table: "outbox",
                column: "given_up_at",
                filter: "given_up_at is not null");

            migrationBuilder.CreateIndex(
                name: "ix_outbox_person_id_created_at",
                table: "outbox",
                columns: new[] { "person_id", "created_at" },
                filter: "person_id is not null");

            migrationBuilder.CreateIndex(
                name: "ix_outbox_to_email_created_at",
                table: "outbox",
                columns: new[] { "to_email", "created_at" },
                filter: "to_email is not null");

            migrationBuilder.CreateIndex(
                name: "EmailIndex",
                table: "person",
                column: "normalized_email");

            migrationBuilder.CreateIndex(
                name: "UserNameIndex",
                table: "person",
                column: "normalized_user_name",
                unique: true);

            migrationBuilder.CreateIndex(
                name: "ix_person_calendar_hash",
                table: "person",
                column: "calendar_hash",
                unique: true,
                filter: "calendar_hash is not null");

            migrationBuilder.CreateIndex(
                name: "ix_person_claim_user_id",
                table: "person_claim",
                column: "user_id");

            migrationBuilder.CreateIndex(
                name: "ix_person_login_user_id",
                table: "person_login",
                column: "user_id");

            migrationBuilder.CreateIndex(
                name: "ix_record_merge_gone_id",
                table: "record_merge",
                column: "gone_id",
                unique: true,
                filter: "apart_at is null");

            migrationBuilder.CreateIndex(
                name: "ix_record_merge_kept_id",
                table: "record_merge",
                column: "kept_id");

            migrationBuilder.CreateIndex(
                name: "ix_record_merge_now_id",
                table: "record_merge",
                column: "now_id");

            migrationBuilder.CreateIndex(
                name: "ix_request_key_at",
                table: "request_key",
                column: "at");

            migrationBuilder.CreateIndex(
                name: "ix_rescore_run_started_at",
                table: "rescore_run",
                column: "started_at");

            migrationBuilder.CreateIndex(
                name: "ix_routing_decision_lead_id_at",
                table: "routing_decision",
                columns: new[] { "lead_id", "at" });

            migrationBuilder.CreateIndex(
                name: "ix_routing_decision_owner_id_at",
                table: "routing_decision",
                columns: new[] { "owner_id", "at" });

            migrationBuilder.CreateIndex(
                name: "ix_session_person_id_seen_at",
                table: "session",
                columns: new[] { "person_id", "seen_at" });

            migrationBuilder.CreateIndex(
                name: "ix_sign_in_failure_last_at",
                table: "sign_in_failure",
                column: "last_at");

            migrationBuilder.CreateIndex(
                name: "ix_single_arrival_form_key_at",
                table: "single_arrival",
                columns: new[] { "form_key", "at" },
                filter: "form_key is not null");

            migrationBuilder.CreateIndex(
                name: "ix_single_arrival_key",
                table: "single_arrival",
                column: "key",
                unique: true,
                filter: "key is not null");

            migrationBuilder.CreateIndex(
                name: "ix_single_arrival_lead_id",
                table: "single_arrival",
                column: "lead_id",
                filter: "lead_id is not null");

            migrationBuilder.CreateIndex(
                name: "ix_single_arrival_state_at",
                table: "single_arrival",
                columns: new[] { "state", "at" },
                filter: "state = 'waiting'");

            migrationBuilder.CreateIndex(
                name: "ix_single_arrival_text_key_at",
                table: "single_arrival",
                columns: new[] { "text_key", "at" },
                filter: "text_key is not null");

            migrationBuilder.CreateIndex(
                name: "ix_story_entry_account_id_at",
                table: "story_entry",
                columns: new[] { "account_id", "at" },
                filter: "account_id is not null");

            migrationBuilder.CreateIndex(
                name: "ix_story_entry_deal_id_at",
                table: "story_entry",
                columns: new[] { "deal_id", "at" },
                filter: "deal_id is not null");

            migrationBuilder.CreateIndex(
                name: "ix_story_entry_lead_id_at",
                table: "story_entry",
                columns: new[] { "lead_id", "at" });

            migrationBuilder.CreateIndex(
                name: "ix_task_lead_id",
                table: "task",
                column: "lead_id");

            migrationBuilder.CreateIndex(
                name: "ix_task_owner_id_due_at",
                table: "task",
                columns: new[] { "owner_id", "due_at" },
                filter: "done_at is null");
            // Bulk paths leave these columns to the database.
            migrationBuilder.Sql(
                """
                alter table arrival alter column cells set default ARRAY[]::text[];
                alter table arrival alter column round set default 0;
                alter table campaign alter column retired set default false;
                alter table import alter column done set default 0;
                alter table import alter column epoch set default 0;
                alter table import alter column force set default false;
                alter table import alter column headings_hash set default '\x'::bytea;
                alter table import alter column knows_up_to set default 0;
                alter table import alter column round set default 0;
                alter table import alter column rows_account set default 0;
                alter table import alter column rows_barred set default 0;
                alter table import alter column rows_contact set default 0;
                alter table import alter column rows_duplicate set default 0;
                alter table import alter column rows_taken set default 0;
                alter table import alter column size set default 0;
                alter table import alter column through set default 0;
                alter table import alter column to_do set default 0;
                alter table import alter column tries set default 0;
                alter table lead alter column band set default 0;
                alter table lead alter column clock_passes set default 0;
                alter table person alter column here set default true;
                alter table person alter column languages set default ARRAY[]::text[];
                alter table person alter column numbers set default ''::text;
                alter table person alter column serves set default ARRAY[]::text[];
                alter table person alter column skills set default ARRAY[]::text[];
                alter table person alter column works_days set default 31;
                alter table pipeline alter column position set default 0;
                alter table source alter column retired set default false;
                alter table task alter column changes set default 0;
                alter table task alter column urgent set default false;
                alter table team alter column only_in_hours set default false;
                """
            );
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropTable(
                name: "absence");

            migrationBuilder.DropTable(
                name: "access_token");

            migrationBuilder.DropTable(
                name: "account_address");

            migrationBuilder.DropTable(
                name: "arrival");

            migrationBuilder.DropTable(
                name: "arrival_file");

            migrationBuilder.DropTable(
                name: "backfill");

            migrationBuilder.DropTable(
                name: "barred");

            migrationBuilder.DropTable(
                name: "booking");

            migrationBuilder.DropTable(
                name: "bulk_lead");

            migrationBuilder.DropTable(
                name: "campaign");

            migrationBuilder.DropTable(
                name: "campaign_cost");

            migrationBuilder.DropTable(
                name: "campaign_response");

            migrationBuilder.DropTable(
                name: "consent");

            migrationBuilder.DropTable(
                name: "contact_account");

            migrationBuilder.DropTable(
                name: "contact_reading");

            migrationBuilder.DropTable(
                name: "crossing");

            migrationBuilder.DropTable(
                name: "data_protection_key");

            migrationBuilder.DropTable(
                name: "deal_competitor");

            migrationBuilder.DropTable(
                name: "deal_person");

            migrationBuilder.DropTable(
                name: "deal_product");

            migrationBuilder.DropTable(
                name: "deal_stage");

            migrationBuilder.DropTable(
                name: "duplicate");

            migrationBuilder.DropTable(
                name: "duplicate_due");

            migrationBuilder.DropTable(
                name: "edition");

            migrationBuilder.DropTable(
                name: "erasure");

            migrationBuilder.DropTable(
                name: "form");

            migrationBuilder.DropTable(
                name: "handover");

            migrationBuilder.DropTable(
                name: "holiday");

            migrationBuilder.DropTable(
                name: "import");

            migrationBuilder.DropTable(
                name: "import_chunk");

            migrationBuilder.DropTable(
                name: "known_device");

            migrationBuilder.DropTable(
                name: "lead");

            migrationBuilder.DropTable(
                name: "lead_event");

            migrationBuilder.DropTable(
                name: "lead_file");

            migrationBuilder.DropTable(
                name: "lead_tag");

            migrationBuilder.DropTable(
                name: "lead_view");

            migrationBuilder.DropTable(
                name: "match_key");

            migrationBuilder.DropTable(
                name: "meeting");

            migrationBuilder.DropTable(
                name: "mend");

            migrationBuilder.DropTable(
                name: "outbox");

            migrationBuilder.DropTable(
                name: "person_claim");

            migrationBuilder.DropTable(
                name: "person_login");

            migrationBuilder.DropTable(
                name: "person_token");

            migrationBuilder.DropTable(
                name: "pipeline");

            migrationBuilder.DropTable(
                name: "price");

            migrationBuilder.DropTable(
                name: "record_merge");

            migrationBuilder.DropTable(
                name: "rep_load");

            migrationBuilder.DropTable(
                name: "request_key");

            migrationBuilder.DropTable(
                name: "rescore_run");

            migrationBuilder.DropTable(
                name: "resource");

            migrationBuilder.DropTable(
                name: "routing_decision");

            migrationBuilder.DropTable(
                name: "search_word");

            migrationBuilder.DropTable(
                name: "session");

            migrationBuilder.DropTable(
                name: "setup_entry");

            migrationBuilder.DropTable(
                name: "sign_in_failure");

            migrationBuilder.DropTable(
                name: "single_arrival");

            migrationBuilder.DropTable(
                name: "source");

            migrationBuilder.DropTable(
                name: "stage");

            migrationBuilder.DropTable(
                name: "story_entry");

            migrationBuilder.DropTable(
                name: "tag");

            migrationBuilder.DropTable(
                name: "task");

            migrationBuilder.DropTable(
                name: "team");

            migrationBuilder.DropTable(
                name: "turn");

            migrationBuilder.DropTable(
                name: "bulk_edit");

            migrationBuilder.DropTable(
                name: "account");

            migrationBuilder.DropTable(
                name: "contact");

            migrationBuilder.DropTable(
                name: "deal");

            migrationBuilder.DropTable(
                name: "holiday_calendar");

            migrationBuilder.DropTable(
                name: "product");

            migrationBuilder.DropTable(
                name: "person");

            migrationBuilder.DropSequence(
                name: "people_change");
        }
    }
}
