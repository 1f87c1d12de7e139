using Wergamon.Core.Audio;
using Wergamon.Core.Formats;

namespace Wergamon.Codecs;

/// <summary>The encoders of the installed libavcodec.</summary>
public sealed class LibAvEncoders : IEncoders
{
    public static LibAvEncoders Instance { get; } = new();

    private LibAvEncoders() { }

    public IEncoder Open(string name, PcmFormat input, IReadOnlyDictionary<string, string> options, PacketSink takePacket) =>
        new LibAvEncoder(name, input, options, packet => LibAvEncoder.Hand(packet, takePacket));

    public IEncoder OpenInContainer(
        string name, PcmFormat input, IReadOnlyDictionary<string, string> options, Stream stream, string container,
        IReadOnlyDictionary<string, string> containerOptions) =>
        new ContainerEncoder(name, input, options, stream, container, containerOptions);

    private sealed class ContainerEncoder : IEncoder
    {
        private readonly LibAvEncoder _encoder;
        private readonly LibAvOutput _output;

        public ContainerEncoder(
            string name, PcmFormat input, IReadOnlyDictionary<string, string> options, Stream stream, string container,
            IReadOnlyDictionary<string, string> containerOptions)
        {
            _encoder = new LibAvEncoder(name, input, options, packet => _output!.Write(packet));
            try
            {
                _output = new LibAvOutput(stream, container, _encoder, containerOptions);
            }
            catch
            {
                _encoder.Dispose();
                throw;
            }
        }

        public ReadOnlySpan<byte> ExtraData => _encoder.ExtraData;

        public int Delay => _encoder.Delay;

        public void Write(SampleBuffer block) => _encoder.Write(block);

        public void Complete()
        {
            _encoder.Complete();
            _output.Complete();
        }

        public void Dispose()
        {
            _output.Dispose();
            _encoder.Dispose();
        }
    }
}
