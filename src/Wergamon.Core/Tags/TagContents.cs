namespace Wergamon.Core.Tags;

/// <summary>A picture without its bytes.</summary>
public readonly record struct PictureEntry(PictureKind Kind, string MimeType, string Description, long Bytes);

/// <summary>An opaque field without its bytes.</summary>
/// <param name="Dialect">As <see cref="OpaqueField.Dialect"/>.</param>
/// <param name="Id">As <see cref="OpaqueField.Id"/>.</param>
public readonly record struct OpaqueEntry(string Dialect, string Id, long Bytes);

/// <summary>Contents of a file's tags without the bytes of pictures and opaque fields: enough to plan with.</summary>
public sealed record TagContents(IReadOnlyList<TagField> Fields, IReadOnlyList<PictureEntry> Pictures, IReadOnlyList<OpaqueEntry> Opaque)
{
    public static TagContents Empty { get; } = new([], [], []);

    /// <summary>Fields, pictures and opaque fields in all.</summary>
    public int Count => Fields.Count + Pictures.Count + OpaqueAlone().Count();

    public static TagContents Of(TagSet tags) => new(
        tags.Fields,
        [.. tags.Pictures.Select(EntryOf)],
        [.. tags.Opaque.Select(EntryOf)]);

    /// <summary>The opaque fields whose fact is no text field too, as a rating or a number is: any dialect can hold that.</summary>
    internal IEnumerable<OpaqueEntry> OpaqueAlone()
    {
        if (Opaque.Count == 0)
            return [];
        var names = Fields.Select(field => field.Name).ToHashSet(StringComparer.OrdinalIgnoreCase);
        return Opaque.Where(entry => Mapping.OpaqueFields.FieldOf(entry.Dialect, entry.Id) is not { } name || !names.Contains(name));
    }

    internal static PictureEntry EntryOf(Picture picture) => new(picture.Kind, picture.MimeType, picture.Description, picture.Data.Length);

    internal static OpaqueEntry EntryOf(OpaqueField field) => new(field.Dialect, field.Id, field.Data.Length);
}
