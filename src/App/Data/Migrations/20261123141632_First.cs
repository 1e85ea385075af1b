using System;
using Microsoft.EntityFrameworkCore.Migrations;
using Npgsql.EntityFrameworkCore.PostgreSQL.Metadata;

#nullable disable

namespace DapperLantern.App.Data.Migrations
{
    /// <inheritdoc />
    public partial class First : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.CreateTable(
                name: "account",
                columns: table => new
                {
                    id = table.Column<Guid>(type: "uuid", nullable: false),
                    name = table.Column<string>(type: "text", nullable: false),
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
                });

            migrationBuilder.CreateTable(
                name: "arrival",
                columns: table => new
                {
                    delivery_id = table.Column<Guid>(type: "uuid", nullable: false),
                    row_number = table.Column<int>(type: "integer", nullable: false),
                    raw = table.Column<string>(type: "text", nullable: false),
                    values = table.Column<string>(type: "jsonb", nullable: false),
                    problems = table.Column<string>(type: "jsonb", nullable: false),
                    outcome = table.Column<string>(type: "text", nullable: false),
                    reason = table.Column<string>(type: "text", nullable: false),
                    same_as_row = table.Column<int>(type: "integer", nullable: true),
                    lead_id = table.Column<Guid>(type: "uuid", nullable: true),
                    filled = table.Column<string>(type: "jsonb", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_arrival", x => new { x.delivery_id, x.row_number });
                });

            migrationBuilder.CreateTable(
                name: "campaign",
                columns: table => new
                {
                    key = table.Column<string>(type: "text", nullable: false),
                    name = table.Column<string>(type: "text", nullable: false),
                    cost = table.Column<decimal>(type: "numeric", nullable: false),
                    currency = table.Column<string>(type: "text", nullable: false),
                    starts = table.Column<DateOnly>(type: "date", nullable: false),
                    ends = table.Column<DateOnly>(type: "date", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_campaign", x => x.key);
                });

            migrationBuilder.CreateTable(
                name: "contact",
                columns: table => new
                {
                    id = table.Column<Guid>(type: "uuid", nullable: false),
                    account_id = table.Column<Guid>(type: "uuid", nullable: true),
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
                    facts = table.Column<string>(type: "jsonb", nullable: false),
                    version = table.Column<int>(type: "integer", nullable: false, defaultValue: 1)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_deal", x => x.id);
                });

            migrationBuilder.CreateTable(
                name: "delivery",
                columns: table => new
                {
                    id = table.Column<Guid>(type: "uuid", nullable: false),
                    file_name = table.Column<string>(type: "text", nullable: false),
                    source = table.Column<string>(type: "text", nullable: false),
                    state = table.Column<string>(type: "text", nullable: false),
                    created_at = table.Column<DateTime>(type: "timestamp with time zone", nullable: false),
                    taken_at = table.Column<DateTime>(type: "timestamp with time zone", nullable: true),
                    taken_back_at = table.Column<DateTime>(type: "timestamp with time zone", nullable: true),
                    person_id = table.Column<Guid>(type: "uuid", nullable: false),
                    content = table.Column<byte[]>(type: "bytea", nullable: false),
                    content_hash = table.Column<byte[]>(type: "bytea", nullable: false),
                    encoding = table.Column<string>(type: "text", nullable: false),
                    separator = table.Column<string>(type: "text", nullable: false),
                    matching = table.Column<string>(type: "jsonb", nullable: false),
                    rows_read = table.Column<int>(type: "integer", nullable: false),
                    rows_new = table.Column<int>(type: "integer", nullable: false),
                    rows_adds = table.Column<int>(type: "integer", nullable: false),
                    rows_aside = table.Column<int>(type: "integer", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_delivery", x => x.id);
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
                    published_at = table.Column<DateTime>(type: "timestamp with time zone", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_edition", x => x.id);
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
                    account_before = table.Column<string>(type: "jsonb", nullable: true),
                    contact_before = table.Column<string>(type: "jsonb", nullable: true),
                    at = table.Column<DateTime>(type: "timestamp with time zone", nullable: false),
                    person_id = table.Column<Guid>(type: "uuid", nullable: false),
                    taken_back_at = table.Column<DateTime>(type: "timestamp with time zone", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_handover", x => x.id);
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
                    delivery_id = table.Column<Guid>(type: "uuid", nullable: true),
                    company_key = table.Column<string>(type: "text", nullable: true),
                    fit = table.Column<int>(type: "integer", nullable: false),
                    fit_low = table.Column<int>(type: "integer", nullable: false),
                    fit_high = table.Column<int>(type: "integer", nullable: false),
                    engagement = table.Column<int>(type: "integer", nullable: false),
                    next_move = table.Column<string>(type: "text", nullable: false),
                    model_edition = table.Column<Guid>(type: "uuid", nullable: true),
                    created_at = table.Column<DateTime>(type: "timestamp with time zone", nullable: false),
                    last_touch_at = table.Column<DateTime>(type: "timestamp with time zone", nullable: false),
                    clock_started_at = table.Column<DateTime>(type: "timestamp with time zone", nullable: true),
                    clock_due_at = table.Column<DateTime>(type: "timestamp with time zone", nullable: true),
                    qualification = table.Column<string>(type: "jsonb", nullable: false, defaultValueSql: "'{}'::jsonb"),
                    custom = table.Column<string>(type: "jsonb", nullable: false, defaultValueSql: "'{}'::jsonb"),
                    provenance = table.Column<string>(type: "jsonb", nullable: false, defaultValueSql: "'{}'::jsonb"),
                    version = table.Column<int>(type: "integer", nullable: false, defaultValue: 1),
                    city = table.Column<string>(type: "text", nullable: true),
                    company = table.Column<string>(type: "text", nullable: true),
                    country = table.Column<string>(type: "text", nullable: true),
                    email = table.Column<string>(type: "text", nullable: true),
                    employees = table.Column<decimal>(type: "numeric", nullable: true),
                    first_name = table.Column<string>(type: "text", nullable: true),
                    industry = table.Column<string>(type: "text", nullable: true),
                    job_title = table.Column<string>(type: "text", nullable: true),
                    last_name = table.Column<string>(type: "text", nullable: true),
                    phone = table.Column<string>(type: "text", nullable: true),
                    postal_code = table.Column<string>(type: "text", nullable: true),
                    region = table.Column<string>(type: "text", nullable: true),
                    sites = table.Column<decimal>(type: "numeric", nullable: true),
                    wants = table.Column<string>(type: "text", nullable: true),
                    website = table.Column<string>(type: "text", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_lead", x => x.id);
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
                    delivery_id = table.Column<Guid>(type: "uuid", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_lead_event", x => x.id);
                });

            migrationBuilder.CreateTable(
                name: "outbox",
                columns: table => new
                {
                    id = table.Column<Guid>(type: "uuid", nullable: false),
                    kind = table.Column<string>(type: "text", nullable: false),
                    person_id = table.Column<Guid>(type: "uuid", nullable: false),
                    subject = table.Column<string>(type: "text", nullable: false),
                    text = table.Column<string>(type: "text", nullable: false),
                    created_at = table.Column<DateTime>(type: "timestamp with time zone", nullable: false),
                    sent_at = table.Column<DateTime>(type: "timestamp with time zone", nullable: true),
                    tries = table.Column<int>(type: "integer", nullable: false)
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
                    away_until = table.Column<DateTime>(type: "timestamp with time zone", nullable: true),
                    capacity = table.Column<int>(type: "integer", nullable: false),
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
                    name = table.Column<string>(type: "text", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_pipeline", x => x.key);
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
                    trace = table.Column<string>(type: "jsonb", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_routing_decision", x => x.id);
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
                name: "source",
                columns: table => new
                {
                    key = table.Column<string>(type: "text", nullable: false),
                    name = table.Column<string>(type: "text", nullable: false),
                    channel = table.Column<string>(type: "text", nullable: false),
                    event_kind = table.Column<string>(type: "text", nullable: false),
                    campaign = table.Column<string>(type: "text", nullable: true)
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
                    counts = table.Column<string>(type: "text", nullable: false)
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
                    delivery_id = table.Column<Guid>(type: "uuid", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_story_entry", x => x.id);
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
                    done_at = table.Column<DateTime>(type: "timestamp with time zone", nullable: true)
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
                    name = table.Column<string>(type: "text", nullable: false)
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
                    credit = table.Column<int>(type: "integer", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_turn", x => new { x.team_key, x.person_id });
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

            migrationBuilder.CreateIndex(
                name: "ix_account_company_key",
                table: "account",
                column: "company_key");

            migrationBuilder.CreateIndex(
                name: "ix_account_domain",
                table: "account",
                column: "domain");

            migrationBuilder.CreateIndex(
                name: "ix_arrival_lead_id",
                table: "arrival",
                column: "lead_id",
                filter: "lead_id is not null");

            migrationBuilder.CreateIndex(
                name: "ix_contact_account_id",
                table: "contact",
                column: "account_id");

            migrationBuilder.CreateIndex(
                name: "ix_contact_email",
                table: "contact",
                column: "email");

            migrationBuilder.CreateIndex(
                name: "ix_deal_account_id",
                table: "deal",
                column: "account_id");

            migrationBuilder.CreateIndex(
                name: "ix_deal_lead_id",
                table: "deal",
                column: "lead_id");

            migrationBuilder.CreateIndex(
                name: "ix_deal_pipeline_key_stage_key",
                table: "deal",
                columns: new[] { "pipeline_key", "stage_key" });

            migrationBuilder.CreateIndex(
                name: "ix_delivery_content_hash",
                table: "delivery",
                column: "content_hash");

            migrationBuilder.CreateIndex(
                name: "ix_edition_kind",
                table: "edition",
                column: "kind",
                unique: true,
                filter: "state = 'live'");

            migrationBuilder.CreateIndex(
                name: "ix_handover_lead_id",
                table: "handover",
                column: "lead_id",
                unique: true,
                filter: "taken_back_at is null");

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
                name: "ix_lead_delivery_id",
                table: "lead",
                column: "delivery_id");

            migrationBuilder.CreateIndex(
                name: "ix_lead_email",
                table: "lead",
                column: "email");

            migrationBuilder.CreateIndex(
                name: "ix_lead_last_touch_at_id",
                table: "lead",
                columns: new[] { "last_touch_at", "id" },
                descending: new bool[0]);

            migrationBuilder.CreateIndex(
                name: "ix_lead_number",
                table: "lead",
                column: "number",
                unique: true);

            migrationBuilder.CreateIndex(
                name: "ix_lead_owner_id_state",
                table: "lead",
                columns: new[] { "owner_id", "state" });

            migrationBuilder.CreateIndex(
                name: "ix_lead_phone",
                table: "lead",
                column: "phone");

            migrationBuilder.CreateIndex(
                name: "ix_lead_event_lead_id_at",
                table: "lead_event",
                columns: new[] { "lead_id", "at" });

            migrationBuilder.CreateIndex(
                name: "ix_outbox_created_at",
                table: "outbox",
                column: "created_at",
                filter: "sent_at is null");

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
                name: "ix_person_claim_user_id",
                table: "person_claim",
                column: "user_id");

            migrationBuilder.CreateIndex(
                name: "ix_person_login_user_id",
                table: "person_login",
                column: "user_id");

            migrationBuilder.CreateIndex(
                name: "ix_routing_decision_lead_id_at",
                table: "routing_decision",
                columns: new[] { "lead_id", "at" });

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
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropTable(
                name: "account");

            migrationBuilder.DropTable(
                name: "arrival");

            migrationBuilder.DropTable(
                name: "campaign");

            migrationBuilder.DropTable(
                name: "contact");

            migrationBuilder.DropTable(
                name: "data_protection_key");

            migrationBuilder.DropTable(
                name: "deal");

            migrationBuilder.DropTable(
                name: "delivery");

            migrationBuilder.DropTable(
                name: "edition");

            migrationBuilder.DropTable(
                name: "handover");

            migrationBuilder.DropTable(
                name: "lead");

            migrationBuilder.DropTable(
                name: "lead_event");

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
                name: "routing_decision");

            migrationBuilder.DropTable(
                name: "setup_entry");

            migrationBuilder.DropTable(
                name: "source");

            migrationBuilder.DropTable(
                name: "stage");

            migrationBuilder.DropTable(
                name: "story_entry");

            migrationBuilder.DropTable(
                name: "task");

            migrationBuilder.DropTable(
                name: "team");

            migrationBuilder.DropTable(
                name: "turn");

            migrationBuilder.DropTable(
                name: "person");
        }
    }
}
