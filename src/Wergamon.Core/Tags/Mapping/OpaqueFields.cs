namespace Wergamon.Core.Tags.Mapping;

/// <summary>Which field says the same as an entry that is kept as bytes, so that other dialects can hold it.</summary>
internal static class OpaqueFields
{
    /// <returns>Null for an entry that no field stands for.</returns>
    public static string? FieldOf(string dialect, string id) => dialect switch
    {
        FieldMap.Id3v2Dialect => FieldOfFrame(id),
        FieldMap.AsfDialect => KeyMap.Asf.FieldOf(id) ?? id,
        _ => null,
    };

    /// <summary>Frames of ID3v2 with a layout of their own: popularimeter, timed lyrics, chapters and their table of contents.</summary>
    public static string? FieldOfFrame(string id) => id switch
    {
        "POPM" => FieldNames.Rating,
        "SYLT" => FieldNames.TimedLyrics,
        "CHAP" or "CTOC" => FieldNames.Chapters,
        _ => null,
    };
}
