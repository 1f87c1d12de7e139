using System.Diagnostics;
using Wergamon.Core.Music;
using Wergamon.Testing;
using Wergamon.Testing.Outside;

namespace Wergamon.Bench;

/// <summary>Speed of analysing tempo, beats, key and energy of an hour of music on one thread, beside libaubio's tempo alone.</summary>
internal static class MusicBench
{
    private const int Rate = 44_100;
    private const int Minutes = 60;

    public static void Run()
    {
        var hour = Hour();
        var watch = Stopwatch.StartNew();
        var found = MusicAnalyser.Analyse(TestSound.Of(hour, Rate), _ => { });
        double ours = watch.Elapsed.TotalSeconds;
        watch.Restart();
        double other = LibAubio.Tempo(hour, Rate);
        double reference = watch.Elapsed.TotalSeconds;
        Console.WriteLine(
            $"Tempo, beats, key and energy of {Minutes} minutes, one thread: {60 * Minutes / ours:0} times playing time "
                + $"({found.Tempo?.Grid.BeatsPerMinute:0.000} BPM); libaubio's tempo alone {60 * Minutes / reference:0} times "
                + $"({other:0.0} BPM)");
    }

    /// <summary>Four on the floor, played by instruments and repeated on the beat.</summary>
    private static float[] Hour()
    {
        const double Tempo = 126;
        var score = new Score(Tempo).Instrument(0, 33).Instrument(1, 16);
        for (int beat = 0; beat < 64; beat++)
        {
            score.Drum(36, beat, 120);
            score.Drum(42, beat + 0.5, 80);
            score.Note(0, 33 + beat / 4 % 4, beat + 0.5, 0.4, 100);
            score.Chord(1, [57, 60, 64], beat + 0.25, 0.3, 60);
        }

        var part = score.Render(Rate).AsSpan(0, (int)(64 * 60 / Tempo * Rate));
        var hour = new float[60 * Minutes * Rate];
        for (int at = 0; at < hour.Length; at += part.Length)
            part[..Math.Min(part.Length, hour.Length - at)].CopyTo(hour.AsSpan(at));
        return hour;
    }
}
