namespace Wergamon.Core.Tags;

/// <summary>What one tag dialect can hold, and at what size.</summary>
public abstract class TagDialect
{
    /// <summary>As people call it: "ID3v2.3".</summary>
    public abstract string Name { get; }

    /// <summary>The name under which a file holds a field.</summary>
    public abstract string NameOf(string field);

    public virtual bool CanHold(TagField field) => true;

    public virtual bool CanHold(PictureEntry picture) => true;

    public abstract bool CanHold(OpaqueEntry field);

    /// <summary>How many fields, pictures and opaque fields can be held.</summary>
    public int CountHeld(TagContents tags) => tags.Fields.Count(CanHold) + tags.Pictures.Count(CanHold) + tags.OpaqueAlone().Count(CanHold);

    /// <summary>Names of what cannot be held.</summary>
    public IEnumerable<string> NotHeld(TagContents tags) =>
    [
        .. tags.Fields.Where(field => !CanHold(field)).Select(field => field.Name),
        .. tags.Pictures.Where(picture => !CanHold(picture)).Select(picture => $"{picture.Kind} picture"),
        .. tags.OpaqueAlone().Where(entry => !CanHold(entry)).Select(entry => entry.Id),
    ];

    /// <summary>The part of the tags that fits the dialect, as a file gives it back.</summary>
    public virtual TagSet Select(TagSet tags)
    {
        var kept = new TagSet();
        foreach (var field in tags.Fields.Where(CanHold))
            kept.Set(field.Name, field.Values);
        foreach (var picture in tags.Pictures.Where(picture => CanHold(TagContents.EntryOf(picture))))
            kept.Pictures.Add(picture);
        foreach (var field in tags.Opaque.Where(field => CanHold(TagContents.EntryOf(field))))
            kept.Opaque.Add(field);
        return kept;
    }

    /// <summary>Size in bytes of the part that fits the dialect.</summary>
    public virtual long LengthOf(TagContents tags)
    {
        var bare = new TagSet();
        foreach (var field in tags.Fields.Where(CanHold))
            bare.Set(field.Name, field.Values);
        long dataBytes = 0;
        foreach (var picture in tags.Pictures.Where(CanHold))
        {
            bare.Pictures.Add(new Picture(picture.Kind, picture.MimeType, picture.Description, default));
            dataBytes += picture.Bytes;
        }

        foreach (var field in tags.Opaque.Where(CanHold))
        {
            bare.Opaque.Add(new OpaqueField(field.Dialect, field.Id, default));
            dataBytes += field.Bytes;
        }

        return LengthOf(bare) + dataBytes;
    }

    /// <summary>Size in bytes of these tags as written; each byte of data takes one.</summary>
    protected abstract long LengthOf(TagSet tags);
}
