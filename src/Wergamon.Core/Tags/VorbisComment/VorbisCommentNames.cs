using Wergamon.Core.Tags.Mapping;

namespace Wergamon.Core.Tags.VorbisComment;

/// <summary>Keys of Vorbis comments. Case does not tell them apart, and an unknown one is the name of its field.</summary>
internal static class VorbisCommentNames
{
    private static readonly KeyMap Keys = new(row => row.Vorbis, StringComparer.OrdinalIgnoreCase, FieldMap.VorbisAliases);

    public static string ToKey(string name) => Keys.KeyOf(name) ?? name;

    public static string ToName(string key) => Keys.FieldOf(key) ?? key;

    /// <summary>Keys are printable ASCII without the equals sign (Vorbis I comment specification, content vector format).</summary>
    public static bool IsKey(string key) => key.Length > 0 && key.All(c => c is >= ' ' and <= '}' and not '=');
}
