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
    /// <exception cref="UnreadableAudioException">The file is damaged within the sound.</exception>
    public abstract string HashSound(Stream stream);

    /// <summary>Writes a copy of a file with other tags.</summary>
    /// <param name="source">A whole file of this format; seekable.</param>
    /// <param name="target">Empty, seekable.</param>
    /// <exception cref="UnreadableAudioException">The tags of this file cannot be written.</exception>
    public void RewriteTags(Stream source, Stream target, TagSet tags, TagWriteOptions? options = null) =>
        EditTags(source, tags, options ?? TagWriteOptions.Usual).WriteTo(source, target);
}
