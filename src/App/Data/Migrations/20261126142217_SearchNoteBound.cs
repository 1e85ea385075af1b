using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace DapperLantern.App.Data.Migrations
{
    /// <inheritdoc />
    public partial class SearchNoteBound : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
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
            migrationBuilder.Sql(
                """
                create or replace function search_note(note text) returns tsvector language sql immutable parallel safe as $fn$
                  select search_words(regexp_replace(left(note, 20000), '([[:alnum:]]{100})[[:alnum:]]+', '\1', 'g'), null, null, null)
                $fn$;
                """
            );
        }
    }
}
