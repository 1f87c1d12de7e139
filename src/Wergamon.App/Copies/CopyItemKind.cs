namespace Wergamon.App.Copies;

/// <summary>The kinds of items that make copies.</summary>
public static class CopyItemKind
{
    /// <summary>From a copy in the library.</summary>
    public const string Convert = "convert";

    /// <summary>From a track of a disc.</summary>
    public const string Rip = "rip-copy";

    /// <summary>For a disc or a stick.</summary>
    public const string Deliver = "deliver-file";

    /// <summary>Of several tracks.</summary>
    public const string Join = "join-file";
}
