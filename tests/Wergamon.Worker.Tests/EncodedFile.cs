using Wergamon.Codecs;
using Wergamon.Core.Audio;
using Wergamon.Testing;

namespace Wergamon.Worker.Tests;

/// <summary>Files in formats that Wergamon reads and does not write, made by libav.</summary>
internal static class EncodedFile
{
    /// <param name="container">Its name in libav.</param>
    /// <param name="codec">The encoder's name in libav.</param>
    /// <param name="input">What the encoder is fed with.</param>
    public static string Write(string path, string container, string codec, TestSound sound, AvSampleFormat input, params (string Name, string Value)[] options)
    {
        using var stream = File.Create(path);
        LibAvOutput? output = null;
        using var encoder = new LibAvEncoder(codec, sound.Format, input, options.ToDictionary(option => option.Name, option => option.Value), packet => output!.Write(packet));
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
}
