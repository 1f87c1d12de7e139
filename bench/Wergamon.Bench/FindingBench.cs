using System.Diagnostics;
using Wergamon.Codecs;
using Wergamon.Core.Analysis.Findings;
using Wergamon.Core.Audio;
using Wergamon.Core.Audio.Resampling;
using Wergamon.Core.Audio.Steps;
using Wergamon.Core.Formats;
using Wergamon.Core.Formats.Aac;
using Wergamon.Core.Formats.Mp3;
using Wergamon.Core.Formats.Opus;
using Wergamon.Core.Formats.Vorbis;
using Wergamon.Core.Tags;

namespace Wergamon.Bench;

/// <summary>
/// How often lossless files that were made from lossy ones are known, by encoder and bitrate, and how often others are called so.
/// </summary>
internal static class FindingBench
{
    /// <param name="music">The demo music.</param>
    public static void Run(string music, string work)
    {
        // Further copies of the same music tell nothing new, and one file is not what it says.
        string[] others = ["Old laptop", "Wickwire"];
        var files = Directory.EnumerateFiles(music, "*", SearchOption.AllDirectories)
            .Where(
                    path => Path.GetExtension(path) is ".flac" or ".wav" or ".aiff"
                        && !others.Any(folder => path.StartsWith(Path.Combine(music, folder), StringComparison.Ordinal)))
                .Order()
                .ToList();
        Tell("as it is", path => AudioFiles.Open(path));
        foreach (int rate in (int[])[30_000, 32_000, 36_000, 40_000])
            Tell(
                $"low-passed at {rate / 2000.0:0} kHz",
                path =>
                    Stereo(new ResamplingReader(new ResamplingReader(AudioFiles.Open(path), new SampleRate(rate)), SampleRate.AudioDisc)));
        foreach (int rate in (int[])[96, 128, 160, 192, 256, 320])
            Tell($"MP3 {rate} kbit/s", path => Through(path, Mp3Settings.Constant(rate), ".mp3"));
        Tell("MP3 variable, quality 2", path => Through(path, Mp3Settings.Variable(2), ".mp3"));
        foreach (var format in (WritableFormat[])[AacFormat.Instance, VorbisFormat.Instance, OpusFormat.Instance])
            Tell(format.UsualSettings.Summary, path => Through(path, format.UsualSettings, format.Extension));

        void Tell(string name, Func<string, IPcmReader> open)
        {
            int certain = 0, likely = 0, unsure = 0;
            var watch = Stopwatch.StartNew();
            foreach (var path in files)
            {
                using var reader = open(path);
                var findings = SoundInspector.Inspect(reader, true, _ => { }).Findings;
                var surest = findings.Where(finding => finding.Kind == FindingKind.LossyAncestor)
                    .Select(finding => (Sureness?)finding.Sureness)
                    .Max();
                certain += surest == Sureness.Certain ? 1 : 0;
                likely += surest == Sureness.Likely ? 1 : 0;
                unsure += findings.Any(finding => finding.Kind == FindingKind.LowPassed) ? 1 : 0;
            }

            Console.WriteLine(
                $"{name}: of {files.Count} files {certain} certain, {likely} likely, {unsure} unsure, "
                    + $"{files.Count - certain - likely - unsure} nothing ({watch.Elapsed.TotalSeconds / files.Count:0.00} s each)");
        }

        IPcmReader Through(string path, EncoderSettings settings, string extension)
        {
            var copy = Path.Combine(work, "lossy" + extension);
            using (var source = Stereo(
                settings.Format == OpusFormat.Instance
                    ? new ResamplingReader(AudioFiles.Open(path), new SampleRate(48_000))
                    : AudioFiles.Open(path)))
            using (var writer = AudioFiles.Create(File.Create(copy), source.Format, new TagSet(), settings))
            {
                var block = new SampleBuffer(source.Format);
                while (source.Read(block) > 0)
                    writer.Write(block);
                writer.Complete();
            }

            return new RequantisingReader(AudioFiles.Open(copy), 16);
        }

        static IPcmReader Stereo(IPcmReader reader) =>
            new RequantisingReader(reader.Format.Channels > 2 ? new DownmixReader(reader) : reader, 16);
    }
}
