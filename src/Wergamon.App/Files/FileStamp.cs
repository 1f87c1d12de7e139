namespace Wergamon.App.Files;

/// <summary>Identifies an unchanged file between scans.</summary>
/// <param name="Bytes">Its size.</param>
/// <param name="ModifiedAt">Time of change in Unix milliseconds.</param>
/// <param name="Number">See <see cref="FileNumber"/>.</param>
internal readonly record struct FileStamp(long Bytes, long ModifiedAt, long Number)
{
    /// <summary>The stamp of no file: whatever is there counts as changed.</summary>
    public static FileStamp None => default;

    /// <summary>What stays the same when a file is copied to another disk.</summary>
    public (long Bytes, long ModifiedAt) SizeAndTime => (Bytes, ModifiedAt);

    /// <summary>Zeros for a file that is gone, that a link leads to, or whose name is not valid text.</summary>
    public static FileStamp Of(string path) => PlainFile.Look(path) is { IsRegular: true } look
        ? new(look.Length, new DateTimeOffset(look.ModifiedUtc).ToUnixTimeMilliseconds(), FileNumber.Of(path, look))
        : default;

    /// <summary>True when nothing shows that the two describe different files or versions.</summary>
    public bool Fits(FileStamp other) => SizeAndTime == other.SizeAndTime && (Number == other.Number || !HasNumber || !other.HasNumber);

    /// <summary>True when both have the same known number.</summary>
    public bool SharesNumber(FileStamp other) => HasNumber && Number == other.Number;

    public bool HasNumber => Number != FileNumber.Unknown;
}
