using Wergamon.Core.Audio;
using Wergamon.Core.Tags;

namespace Wergamon.Core.Formats;

/// <summary>A format whose tags can be written.</summary>
public abstract class TaggedFormat : FileFormat
{
    private protected TaggedFormat(string key, string name) : base(key, name) { }

    /// <summary>How its files hold tags.</summary>
    public abstract TagDialect Dialect { get; }

    /// <summary>
    /// Plans a file with other tags. The coded sound stays byte for byte, and in its place where there is room for the tags.
    /// </summary>
    /// <param name="source">A whole file of this format; seekable.</param>
    /// <param name="tags">Opaque fields of other dialects are left out.</param>
    /// <param name="options">How the tags are to be written.</param>
    /// <exception cref="UnreadableAudioException">The tags of this file cannot be written.</exception>
    public abstract TagEdit EditTags(Stream source, TagSet tags, TagWriteOptions options);

    /// <summary>A hash over all that is not tags, to prove that writing tags has not touched it.</summary>
    /// <exception cref="UnreadableAudioException">The file is damaged where the sound lies.</exception>
    public abstract string HashSound(Stream stream);

    /// <summary>What is wrong with a file whose tags were written, in words; null when it is as it should be.</summary>
    /// <param name="sound">The hash of the sound before.</param>
    /// <param name="expected">What has to read back, as the dialect holds it; null to look at the sound alone.</param>
    public string? Verify(Stream stream, string sound, TagSet? expected)
    {
        if (HashSound(stream) != sound)
            return "The audio of the file with the new tags was not the same.";
        if (expected is null)
            return null;
        var back = FileReading.ReadTags(stream);
        foreach (var field in expected.Fields)
        {
            if (!back.Tags[field.Name].SequenceEqual(field.Values))
                return $"The field \"{field.Name}\" did not read back as it was written.";
        }

        return back.Damage.Count > 0 || !Dialect.Select(back.Tags).Pictures.SequenceEqual(expected.Pictures)
            ? "The new tags did not read back completely."
            : null;
    }

    /// <summary>Writes a copy of a file with other tags.</summary>
    /// <param name="source">A whole file of this format; seekable.</param>
    /// <param name="target">Empty, seekable.</param>
    /// <exception cref="UnreadableAudioException">The tags of this file cannot be written.</exception>
    public void RewriteTags(Stream source, Stream target, TagSet tags, TagWriteOptions? options = null) =>
        EditTags(source, tags, options ?? TagWriteOptions.Usual).WriteTo(source, target);
}
