using DapperLantern.App.Data;
using Microsoft.EntityFrameworkCore;

namespace DapperLantern.App.Search;

/// <summary>The entity of the words that are searched by.</summary>
internal static class SearchEntities
{
    public static void MapSearchEntities(this ModelBuilder builder) => builder.Map<SearchWord>("search_word", w => w.HasKey(x => x.Word));
}
