using Microsoft.EntityFrameworkCore.Infrastructure;
using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace DapperLantern.App.Data.Migrations
{
    /// <summary>
    /// The hashes of people, which outlive their data, come under the key that the connection brings: see <see cref="Campaigns.PersonHash"/>. Those kept are
    /// hashed on from what they were, so each person stays known.
    /// </summary>
    [DbContext(typeof(LanternDb))]
    [Migration("20261129190000_KeyedHashes")]
    public partial class KeyedHashes : Migration
    {
        private const string Key = "decode(current_setting('lantern.person_key'), 'hex')";

        protected override void Up(MigrationBuilder migrationBuilder) =>
            migrationBuilder.Sql(
                $"""
                create extension if not exists pgcrypto;
                create or replace function person_key(text) returns bigint language sql stable strict parallel safe
                  return ('x' || encode(substr(hmac(sha256(convert_to($1, 'UTF8')), {Key}, 'sha256'), 1, 8), 'hex'))::bit(64)::bigint;
                update consent set person_hash = hmac(person_hash, {Key}, 'sha256');
                update consent set person_key = ('x' || encode(substr(person_hash, 1, 8), 'hex'))::bit(64)::bigint;
                update delivery set content_hash = hmac(content_hash, {Key}, 'sha256');
                update barred set hash = hmac(hash, {Key}, 'sha256');
                update barred set hash_key = ('x' || encode(substr(hash, 1, 8), 'hex'))::bit(64)::bigint;
                """
            );

        protected override void Down(MigrationBuilder migrationBuilder) => throw new NotSupportedException("a hash under a key cannot be made one without");
    }
}
