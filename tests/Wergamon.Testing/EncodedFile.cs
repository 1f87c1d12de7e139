using Wergamon.Codecs;
using Wergamon.Core.Audio;

namespace Wergamon.Testing;

/// <summary>Files in formats that Wergamon reads and does not write, made by libav.</summary>
public static class EncodedFile
{
    /// <param name="container">Its name in libav.</param>
    /// <param name="codec">The encoder's name in libav.</param>
    public static string Write(string path, string container, string codec, TestSound sound, params (string Name, string Value)[] options)
    {
        using var stream = File.Create(path);
        LibAvOutput? output = null;
        using var encoder = new LibAvEncoder(codec, sound.Format, InputFor(codec, sound.Format), options.ToDictionary(option => option.Name, option => option.Value), packet => output!.Write(packet));
        output = new LibAvOutput(stream, container, encoder, new Dictionary<string, string>());
        using (output)
        {
            var block = new SampleBuffer(sound.Format);
            while (sound.Read(block) > 0)
                encoder.Write(block);
            encoder.Complete();
            output.Complete();
        }

        return path;
    }

    private static AvSampleFormat InputFor(string codec, PcmFormat format) => codec switch
    {
        "flac" or "libopus" or "pcm_s16le" => format.Bits == 16 ? AvSampleFormat.S16 : AvSampleFormat.S32,
        _ when format.IsFloat => AvSampleFormat.FloatPlanar,
        _ => format.Bits == 16 ? AvSampleFormat.S16Planar : AvSampleFormat.S32Planar,
    };
}
