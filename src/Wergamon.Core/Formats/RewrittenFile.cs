using Wergamon.Core.Audio;
using Wergamon.Core.Tags;

namespace Wergamon.Core.Formats;

/// <summary>A copy of a file in its own format: the coded sound stays byte for byte, the tags are others.</summary>
/// <param name="stream">Empty, seekable, owned from now on.</param>
/// <param name="source">A whole file of the format; seekable, owned from now on.</param>
/// <param name="input">Format of the samples that the sound decodes to; blocks of it are ignored.</param>
internal sealed class RewrittenFile(
    Stream stream, Stream source, WritableFormat format, PcmFormat input, TagSet tags, TagWriteOptions? options)
    : IPcmWriter
{
    public PcmFormat Format => input;

    public void Write(SampleBuffer block)
    {
        // The samples are those of the packets that are copied.
    }

    public void Complete()
    {
        format.RewriteTags(source, stream, tags, options);
        stream.Flush();
    }

    public void Dispose()
    {
        source.Dispose();
        stream.Dispose();
    }
}
