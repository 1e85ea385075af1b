using DapperLantern.App.Data;

namespace DapperLantern.App.Intake.Letters;

/// <summary>A file that came with an arrival: the letter itself as it came, or what was attached to it.</summary>
public sealed class ArrivalFileRow
{
    public Guid Id { get; set; }
    public Guid ArrivalId { get; set; }

    /// <summary>Order, from 0; 0 is the letter itself.</summary>
    public int Position { get; set; }
    public string Name { get; set; } = "";
    public string Type { get; set; } = "";
    public int Size { get; set; }
    public byte[] Bytes { get; set; } = [];

    public static BulkTable<ArrivalFileRow> Table { get; } =
        new BulkTable<ArrivalFileRow>("arrival_file")
            .Uuid("id", f => f.Id)
            .Uuid("arrival_id", f => f.ArrivalId)
            .Int("position", f => f.Position)
            .Text("name", f => f.Name)
            .Text("type", f => f.Type)
            .Int("size", f => f.Size)
            .Bytes("bytes", f => f.Bytes);
}
