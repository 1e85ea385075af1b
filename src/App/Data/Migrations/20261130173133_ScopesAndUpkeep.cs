using System;
using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace DapperLantern.App.Data.Migrations
{
    /// <inheritdoc />
    public partial class ScopesAndUpkeep : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.AddColumn<Guid>(
                name: "manager_id",
                table: "person",
                type: "uuid",
                nullable: true);

            migrationBuilder.CreateTable(
                name: "record_share",
                columns: table => new
                {
                    id = table.Column<Guid>(type: "uuid", nullable: false),
                    person_id = table.Column<Guid>(type: "uuid", nullable: false),
                    lead_id = table.Column<Guid>(type: "uuid", nullable: true),
                    contact_id = table.Column<Guid>(type: "uuid", nullable: true),
                    account_id = table.Column<Guid>(type: "uuid", nullable: true),
                    deal_id = table.Column<Guid>(type: "uuid", nullable: true),
                    at = table.Column<DateTime>(type: "timestamp with time zone", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_record_share", x => x.id);
                });

            migrationBuilder.CreateIndex(
                name: "ix_person_manager_id",
                table: "person",
                column: "manager_id");

            migrationBuilder.CreateIndex(
                name: "ix_record_share_lead_id",
                table: "record_share",
                column: "lead_id",
                filter: "lead_id is not null");

            migrationBuilder.CreateIndex(
                name: "ix_record_share_person_id_account_id",
                table: "record_share",
                columns: new[] { "person_id", "account_id" },
                filter: "account_id is not null");

            migrationBuilder.CreateIndex(
                name: "ix_record_share_person_id_contact_id",
                table: "record_share",
                columns: new[] { "person_id", "contact_id" },
                filter: "contact_id is not null");

            migrationBuilder.CreateIndex(
                name: "ix_record_share_person_id_deal_id",
                table: "record_share",
                columns: new[] { "person_id", "deal_id" },
                filter: "deal_id is not null");

            migrationBuilder.CreateIndex(
                name: "ix_record_share_person_id_lead_id",
                table: "record_share",
                columns: new[] { "person_id", "lead_id" },
                filter: "lead_id is not null");

            migrationBuilder.AddForeignKey(
                name: "fk_person_person_manager_id",
                table: "person",
                column: "manager_id",
                principalTable: "person",
                principalColumn: "id",
                onDelete: ReferentialAction.SetNull);

            migrationBuilder.Sql(Scheduler);
        }

        // The store of Quartz.NET 3 for PostgreSQL.
        private const string Scheduler = """
            create table qrtz_job_details (sched_name text, job_name text, job_group text, description text, job_class_name text not null, is_durable bool not null, is_nonconcurrent bool not null,
              is_update_data bool not null, requests_recovery bool not null, job_data bytea, primary key (sched_name, job_name, job_group));
            create table qrtz_triggers (sched_name text, trigger_name text, trigger_group text, job_name text not null, job_group text not null, description text, next_fire_time bigint,
              prev_fire_time bigint, priority int, trigger_state text not null, trigger_type text not null, start_time bigint not null, end_time bigint, calendar_name text, misfire_instr smallint,
              job_data bytea, misfire_orig_fire_time bigint, execution_group text, preferred_node text, preferred_node_auto bool, primary key (sched_name, trigger_name, trigger_group),
              foreign key (sched_name, job_name, job_group) references qrtz_job_details);
            create table qrtz_simple_triggers (sched_name text, trigger_name text, trigger_group text, repeat_count bigint not null, repeat_interval bigint not null, times_triggered bigint not null,
              primary key (sched_name, trigger_name, trigger_group), foreign key (sched_name, trigger_name, trigger_group) references qrtz_triggers on delete cascade);
            create table qrtz_simprop_triggers (sched_name text, trigger_name text, trigger_group text, str_prop_1 text, str_prop_2 text, str_prop_3 text, int_prop_1 int, int_prop_2 int,
              long_prop_1 bigint, long_prop_2 bigint, dec_prop_1 numeric, dec_prop_2 numeric, bool_prop_1 bool, bool_prop_2 bool, time_zone_id text,
              primary key (sched_name, trigger_name, trigger_group), foreign key (sched_name, trigger_name, trigger_group) references qrtz_triggers on delete cascade);
            create table qrtz_cron_triggers (sched_name text, trigger_name text, trigger_group text, cron_expression text not null, time_zone_id text,
              primary key (sched_name, trigger_name, trigger_group), foreign key (sched_name, trigger_name, trigger_group) references qrtz_triggers on delete cascade);
            create table qrtz_blob_triggers (sched_name text, trigger_name text, trigger_group text, blob_data bytea,
              primary key (sched_name, trigger_name, trigger_group), foreign key (sched_name, trigger_name, trigger_group) references qrtz_triggers on delete cascade);
            create table qrtz_calendars (sched_name text, calendar_name text, calendar bytea not null, primary key (sched_name, calendar_name));
            create table qrtz_paused_trigger_grps (sched_name text, trigger_group text, primary key (sched_name, trigger_group));
            create table qrtz_fired_triggers (sched_name text, entry_id text, trigger_name text not null, trigger_group text not null, instance_name text not null, fired_time bigint not null,
              sched_time bigint not null, priority int not null, state text not null, job_name text, job_group text, is_nonconcurrent bool not null, requests_recovery bool,
              primary key (sched_name, entry_id));
            create table qrtz_scheduler_state (sched_name text, instance_name text, last_checkin_time bigint not null, checkin_interval bigint not null, primary key (sched_name, instance_name));
            create table qrtz_locks (sched_name text, lock_name text, primary key (sched_name, lock_name));
            create index ix_qrtz_triggers_next on qrtz_triggers (next_fire_time, trigger_state);
            create index ix_qrtz_fired_triggers_job on qrtz_fired_triggers (job_name, job_group);
            """;

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.Sql(
                """
                drop table qrtz_simple_triggers, qrtz_simprop_triggers, qrtz_cron_triggers, qrtz_blob_triggers, qrtz_calendars, qrtz_paused_trigger_grps, qrtz_fired_triggers, qrtz_scheduler_state,
                  qrtz_locks, qrtz_triggers, qrtz_job_details
                """
            );

            migrationBuilder.DropForeignKey(
                name: "fk_person_person_manager_id",
                table: "person");

            migrationBuilder.DropTable(
                name: "record_share");

            migrationBuilder.DropIndex(
                name: "ix_person_manager_id",
                table: "person");

            migrationBuilder.DropColumn(
                name: "manager_id",
                table: "person");
        }
    }
}
