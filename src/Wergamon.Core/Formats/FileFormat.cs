using System.Text.Json.Serialization;
using Wergamon.Core.Audio;
using Wergamon.Core.Formats.Registry;
using Wergamon.Core.Tags;

namespace Wergamon.Core.Formats;

/// <summary>
/// One file format: how to recognise its files and read them without decoding. One instance each,
/// listed in <see cref="FileFormats"/>.
/// </summary>
[JsonConverter(typeof(FileFormatConverter))]
public abstract class FileFormat
{
    private protected FileFormat(string key, string name)
    {
        Key = key;
        Name = name;
    }

    /// <summary>Identifies the format in the database and in messages: "flac".</summary>
    public string Key { get; }

    /// <summary>As people read it: "FLAC".</summary>
    public string Name { get; }

    /// <summary>False where many players do not read the tags of its files.</summary>
    public virtual bool HoldsTagsWell => true;

    /// <summary>True where decoders give padding behind the music and only the header says where the music ends.</summary>
    public virtual bool HasPaddingBehindMusic => false;

    /// <summary>
    /// The file in the stream; null when it is in another format. Of the formats that share a container, the plain container opens the
    /// files and says which format each is in.
    /// </summary>
    /// <param name="stream">Seekable; its position is left undefined.</param>
    /// <param name="start">Its first 12 bytes, or all of a shorter file.</param>
    /// <exception cref="UnreadableAudioException">It is in this format and damaged beyond reading.</exception>
    internal virtual OpenedFile? Open(Stream stream, ReadOnlySpan<byte> start) => null;

    /// <summary>The MIME type under which common browsers play its files (common practice, no source); null when they do not.</summary>
    /// <param name="codecName">As <see cref="AudioFacts.CodecName"/> has it.</param>
    public virtual string? BrowserType(string codecName) => null;

    /// <summary>Reads the samples of a file that needs no decoder; null when it needs one, or is in another format.</summary>
    /// <param name="stream">Seekable, owned by the reader from now on.</param>
    /// <param name="start">Its first 12 bytes, or all of a shorter file.</param>
    internal virtual IPcmReader? OpenPcm(Stream stream, ReadOnlySpan<byte> start) => null;

    public sealed override string ToString() => Name;
}

/// <summary>A file of known format. Each part is read on demand, a shared header only once.</summary>
/// <param name="Format">The format that it is in.</param>
/// <param name="ReadFacts">Gives null where only a decoder can tell. Throws <see cref="UnreadableAudioException"/> when there is no
/// sound.</param>
/// <param name="ReadTags">Never throws over damage; it is named in the result.</param>
internal sealed record OpenedFile(FileFormat Format, Func<AudioFacts?> ReadFacts, Func<TagReading> ReadTags) : IDisposable
{
    /// <summary>What both parts are read from, where it holds memory that others can use afterwards.</summary>
    public IDisposable? Shared { get; init; }

    public void Dispose() => Shared?.Dispose();
}
