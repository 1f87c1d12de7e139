namespace Wergamon.Core.Tags.Id3v2;

/// <summary>ID3v2 as written by default; user-defined frames take any other field.</summary>
public sealed class Id3v2Dialect : TagDialect
{
    public static Id3v2Dialect Instance { get; } = new();

    private Id3v2Dialect() { }

    public override string Name => "ID3v2.3";

    public override string NameOf(string field) => Id3v2Frames.FrameOf(field, version: 3) ?? "TXXX:" + field;

    public override bool CanHold(OpaqueEntry field) => field.Dialect == Id3v2FrameParser.Dialect;

    public override TagSet Select(TagSet tags)
    {
        var kept = base.Select(tags);
        MappedFrames.Agree(kept);
        return kept;
    }

    protected override long LengthOf(TagSet tags) => Id3v2Writer.LengthOf(tags);
}
