using System.Globalization;
using System.Security.Cryptography;
using Wergamon.Core.Audio;
using Wergamon.Core.Formats.Registry;
using Wergamon.Core.Formats.Wav;
using Wergamon.Core.Tags;
using Wergamon.Testing;

namespace Wergamon.App.Tests.Kills;

/// <summary>A library, and a server on it that is killed again and again.</summary>
public abstract class KillTrial(ITestOutputHelper output) : IDisposable
{
    /// <summary>Kills of each trial: few in every check, as many as <c>WERGAMON_KILLS</c> says for a longer one.</summary>
    protected static readonly int Kills =
        int.Parse(Environment.GetEnvironmentVariable("WERGAMON_KILLS") ?? "2", CultureInfo.InvariantCulture);

    protected TemporaryFolder Folder { get; } = new();

    protected string Music => Directory.CreateDirectory(Folder["music"]).FullName;

    protected string Data => Folder["data"];

    protected ITestOutputHelper Output => output;

    public void Dispose()
    {
        Folder.Dispose();
        GC.SuppressFinalize(this);
    }

    private protected KilledServer NewServer(double speedup = 6, string? data = null)
    {
        var (music, kept, rack) = (Music, data ?? Data, Directory.Exists(Folder["rack"]) ? Folder["rack"] : null);
        return new KilledServer(output, kept, () => new WebServer(kept, music, Folder.Path, speedup, rack));
    }

    /// <summary>Tracks of one album, each a little longer than the one before; gives the sums of their files.</summary>
    /// <param name="seconds">Of the first one.</param>
    protected IReadOnlyList<string> MakeTracks(int count, int seconds = 6) => [.. Enumerable.Range(1, count).Select(number =>
    {
        var path = Path.Combine(Music, $"The Quarry Lamps - Night Shift - {number:00} Turn {number}.wav");
        File.WriteAllBytes(path, Sound(seconds - 1 + number));
        return Sum(path);
    })];

    protected static byte[] Sound(double seconds)
    {
        var format = new PcmFormat(SampleRate.AudioDisc, 2, 16);
        var file = new MemoryStream();
        using (var writer = new WavWriter(file, format))
            TestSound.Music(format, (long)(seconds * 44_100)).CopyTo(writer);
        return file.ToArray();
    }

    protected static TagSet TagsOf(string path)
    {
        using var stream = File.OpenRead(path);
        return FileReading.ReadTags(stream).Tags;
    }

    protected static string Sum(string path) => System.Convert.ToHexString(SHA256.HashData(File.ReadAllBytes(path)));
}
