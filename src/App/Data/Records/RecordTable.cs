namespace DapperLantern.App.Data.Records;

/// <summary>What happens to the rows that belong to a record when something happens to the record.</summary>
public enum Fate
{
    /// <summary>They stay as they are, and name the record still.</summary>
    Stays,

    /// <summary>They go to the record that is kept.</summary>
    Moves,

    /// <summary>They go with the record. What is removed by hand is kept with it, and comes back with it.</summary>
    Goes,

    /// <summary>The capability sees to them in code of its own.</summary>
    ByItself,
}

/// <summary>A column by which rows of a table belong to a record.</summary>
/// <param name="To">The table of the record: lead, contact, account, deal and so on.</param>
/// <param name="Merge">When the record is merged into another one.</param>
/// <param name="Removal">When the record is removed by hand.</param>
/// <param name="TakeBack">When the import that made the record is taken back.</param>
/// <param name="Erasure">When the person is erased.</param>
public sealed record RecordTie(string Table, string Column, string To, Fate Merge, Fate Removal, Fate TakeBack, Fate Erasure);

/// <summary>A table whose rows are given to a person who asks for all we have about them.</summary>
/// <param name="Key">Its name in the file.</param>
/// <param name="Label">Its name for people, in the plural.</param>
/// <param name="More">What is told beside the row's own columns: an SQL object over the alias <c>t</c>, or null.</param>
/// <param name="Without">Columns that say nothing about the person: hashes and keys of ours.</param>
public sealed record GivenTable(string Key, string Label, string? More, string[] Without);

/// <summary>
/// A table of the database with what its rows belong to. Merging, taking apart, removal, taking back, erasure and a person's export are made from these, so that a new table is declared
/// once, with its capability. A test holds the declarations against the database.
/// </summary>
public sealed class RecordTable(string name)
{
    private readonly List<RecordTie> _ties = [];
    private readonly List<string> _plain = [];
    private readonly HashSet<string> _outliving = [];

    public string Name { get; } = name;

    public IReadOnlyList<RecordTie> Ties => _ties;

    /// <summary>Columns that look as if they named a record, and do not.</summary>
    public IReadOnlyList<string> Plain => _plain;

    /// <summary>Columns whose rows stay when the record they name is gone.</summary>
    public IReadOnlySet<string> Outliving => _outliving;

    public GivenTable? Given { get; private set; }

    /// <summary>True where rows come by the thousand: a foreign key costs about 6 µs a row there, so its ties are counted by night in place of being held by the database.</summary>
    public bool IsBulk { get; private set; }

    /// <summary>Ties whose record is always there: every one but those of rows that outlive it, or that stay when a lead is removed by hand.</summary>
    public IEnumerable<RecordTie> Whole => _ties.Where(t => !_outliving.Contains(t.Column) && (t.To != "lead" || t.Removal == Fate.Goes));

    /// <summary>Ties that the database holds by a foreign key, deferred, since a record and its rows leave and come back within one transaction.</summary>
    public IEnumerable<RecordTie> Held => IsBulk ? [] : Whole;

    /// <summary>Declares a column that names a record. What is not said stays.</summary>
    public RecordTable Tie(string to, string column, Fate merge = Fate.Stays, Fate removal = Fate.Stays, Fate takeBack = Fate.Stays, Fate erasure = Fate.Stays)
    {
        _ties.Add(new RecordTie(Name, column, to, merge, removal, takeBack, erasure));
        return this;
    }

    /// <summary>Declares a column of a lead's own row: it goes wherever the lead goes, and nowhere else.</summary>
    public RecordTable OfLead() => Tie("lead", "lead_id", Fate.Moves, Fate.Goes, Fate.Goes, Fate.Goes);

    /// <summary>Declares that rows are told to a person who asks for all we have about them.</summary>
    public RecordTable Give(string key, string label, string? more = null, params string[] without)
    {
        Given = new GivenTable(key, label, more, without);
        return this;
    }

    /// <summary>Declares columns whose rows stay when the record they name is gone: they say what once was.</summary>
    public RecordTable Outlives(params string[] columns)
    {
        _outliving.UnionWith(columns);
        return this;
    }

    /// <summary>Declares a table that bulk paths write.</summary>
    public RecordTable Bulk()
    {
        IsBulk = true;
        return this;
    }

    /// <summary>Declares columns that are no ties.</summary>
    public RecordTable Not(params string[] columns)
    {
        _plain.AddRange(columns);
        return this;
    }
}
