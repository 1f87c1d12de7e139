using Wergamon.Codecs;
using Wergamon.Core.Audio;

namespace Wergamon.Testing;

/// <summary>Files made by libav, in formats that Wergamon only reads.</summary>
public static class EncodedFile
{
    /// <param name="container">Its name in libav.</param>
    /// <param name="codec">The encoder's name in libav.</param>
    public static string Write(string path, string container, string codec, TestSound sound, params (string Name, string Value)[] options)
    {
        using var stream = File.Create(path);
        var settings = options.ToDictionary(option => option.Name, option => option.Value);
        using var encoder = LibAvEncoders.Instance.OpenInContainer(codec, sound.Format, settings, stream, container, new Dictionary<string, string> { ["strict"] = "experimental" });
        var block = new SampleBuffer(sound.Format);
        while (sound.Read(block) > 0)
            encoder.Write(block);
        encoder.Complete();
        return path;
    }
}
