using System.Runtime.InteropServices;
using Wergamon.App.Bench;
using Wergamon.Core.Analysis;
using Wergamon.Core.Analysis.Comparing;
using Wergamon.Core.Audio;
using Wergamon.Core.Formats.Wav;
using Wergamon.Core.Naming;

namespace Wergamon.Web.Endpoints;

/// <summary>
/// What pages of the Bench draw and play: waveforms, spectra and samples of a comparison. Little endian, as typed arrays take it.
/// </summary>
internal static class BenchEndpoints
{
    private const int MaxColumns = 8192, MaxSpectrogramColumns = 1024, MaxFrames = 1 << 19, SpectrumWindows = 200;

    private const double MaxSeconds = 1e7;

    /// <summary>One step of 24 bits.</summary>
    private const float NoiseStep = 1f / (1 << 23);

    private const string Binary = "application/octet-stream";

    public static void MapBench(this WebApplication app)
    {
        var tests = app.MapGroup("/bench/tests/{id:long}");
        tests.AddEndpointFilter(async (context, next) =>
        {
            context.HttpContext.Response.Headers.CacheControl = "no-cache";
            return await next(context);
        });
        tests.MapGet("/waveform", Waveform);
        tests.MapGet("/spectrum", Spectrum);
        tests.MapGet("/spectrogram", Spectrogram);
        tests.MapGet("/samples", Samples);
        tests.MapGet("/residue.wav", Residue);
        app.MapGet("/bench/blind/{id:long}/samples", BlindSamples);
    }

    /// <summary>For A, B and the residue in turn: minimum and maximum of each column, as 32-bit floats.</summary>
    /// <param name="from">Seconds, as is <paramref name="to"/>; everything outside of both sounds is silence.</param>
    private static IResult Waveform(long id, double from, double to, int columns, NullTests tests, NullTestStore store)
    {
        if (!IsStretch(from, to) || columns is < 1 or > MaxColumns)
            return Results.BadRequest();
        if (store.Get(id) is not { Result: { } result } test)
            return Results.NotFound();
        // Below the finest columns the samples themselves are drawn.
        bool isFine = (to - from) * result.Rate < columns * (double)PairWaveform.FramesPerColumn;
        var waves = isFine
            ? FineWaveform(tests, test, from, to, columns)
            : tests.Waveform(test, from * result.Rate, to * result.Rate, columns);
        return waves is null ? Results.NotFound() : Results.Bytes(MemoryMarshal.AsBytes(waves.AsSpan()).ToArray(), Binary);
    }

    private static float[]? FineWaveform(NullTests tests, NullTestRecord test, double from, double to, int columns)
    {
        using var sound = tests.Open(test);
        return sound is null ? null : PairWaveform.Draw(sound, from * sound.Rate.Hertz, to * sound.Rate.Hertz, columns);
    }

    private static IResult Spectrum(
        long id, double from, double to, NullTests tests, NullTestStore store) => WithSound(id, tests, store, sound =>
    {
        if (!IsStretch(from, to))
            return Results.BadRequest();
        int rate = sound.Rate.Hertz;
        var (whole, start, end) = (sound.Whole, (long)(from * rate), (long)(to * rate));
        start = Math.Clamp(start, whole.Start, whole.End);
        end = Math.Clamp(end, start, whole.End);
        var spectrum = PairSpectrum.Of(sound, start, end - start, SpectrumWindows);
        var edges = SpectrumBands.Edges(rate);
        return Results.Json(
            new
            {
                edges,
                first = Levels(ComparedSignal.First),
                second = Levels(ComparedSignal.Second),
                residue = Levels(ComparedSignal.Residue)
            });

        IEnumerable<double> Levels(ComparedSignal signal) => spectrum.Levels(signal, edges).Select(level => Math.Round(level, 1));
    });

    /// <summary>See <see cref="PairSpectrogram.Draw"/>.</summary>
    private static IResult Spectrogram(
        long id, ComparedSignal of, double from, double to, int columns, NullTests tests,
        NullTestStore store) => WithSound(id, tests, store, sound =>
        IsStretch(from, to) && columns is > 0 and <= MaxSpectrogramColumns && Enum.IsDefined(of)
            ? Results.Bytes(PairSpectrogram.Draw(sound, of, from * sound.Rate.Hertz, to * sound.Rate.Hertz, columns), Binary)
            : Results.BadRequest());

    /// <summary>Frames of A, then the same frames of B at the level of A, interleaved, as 32-bit floats.</summary>
    private static IResult Samples(
        long id, long from, int count, NullTests tests, NullTestStore store) => WithSound(id, tests, store, sound =>
    {
        if (count is < 1 or > MaxFrames || Math.Abs(from) > MaxSeconds * sound.Rate.Hertz)
            return Results.BadRequest();
        var samples = new float[2 * count * sound.Channels];
        sound.CopyTo(from, samples.AsSpan(0, samples.Length / 2), samples.AsSpan(samples.Length / 2));
        return Results.Bytes(MemoryMarshal.AsBytes(samples.AsSpan()).ToArray(), Binary);
    });

    /// <summary>
    /// Frames of A, B and X of the trial under way, in one answer of one size. Each has noise of its own below 24 bits, so that X is byte
    /// for byte like neither.
    /// </summary>
    private static IResult BlindSamples(long id, int trial, long from, int count, BlindTests blind, NullTests tests, HttpContext context)
    {
        context.Response.Headers.CacheControl = "no-store";
        if (blind.Get(id) is not { IsOver: false } record || trial != record.Current)
            return Results.NotFound();
        using var sound = tests.Open(record.Test);
        if (sound is null)
            return Results.NotFound();
        if (count is < 1 or > MaxFrames || Math.Abs(from) > MaxSeconds * sound.Rate.Hertz)
            return Results.BadRequest();
        int length = count * sound.Channels;
        var samples = new float[3 * length];
        var first = samples.AsSpan(0, length);
        var second = samples.AsSpan(length, length);
        sound.CopyTo(from, first, second);
        (BlindTrial.IsFirst(record.Seed, trial) ? first : second).CopyTo(samples.AsSpan(2 * length));

        foreach (ref float sample in samples.AsSpan())
            sample += (Random.Shared.NextSingle() - 0.5f) * NoiseStep;
        return Results.Bytes(MemoryMarshal.AsBytes(samples.AsSpan()).ToArray(), Binary);
    }

    /// <summary>The residue as a file, in 32-bit floats, so that nothing of it is lost.</summary>
    private static IResult Residue(long id, NullTests tests, NullTestStore store)
    {
        if (store.Get(id) is not { } test || tests.Open(test) is not { } sound)
            return Results.NotFound();
        var format = new PcmFormat(sound.Rate, sound.Channels, 32, SampleKind.Float);
        var overlap = sound.Overlap;
        return Results.Stream(
            async output =>
            {
                using var open = sound;
                using var head = new MemoryStream();
                WavWriter.WriteHead(head, format, overlap.Count);
                await output.WriteAsync(head.ToArray());
                for (long at = overlap.Start; at < overlap.End; at += AlignedSound.BlockFrames)
                {
                    sound.Read(at, (int)Math.Min(AlignedSound.BlockFrames, overlap.End - at));
                    await output.WriteAsync(MemoryMarshal.AsBytes(sound.Residue).ToArray());
                }
            },
            "audio/wav", SafeFileName.From($"{test.Title}, what is left", ".wav"));
    }

    private static IResult WithSound(long id, NullTests tests, NullTestStore store, Func<AlignedSound, IResult> answer)
    {
        if (store.Get(id) is not { } test)
            return Results.NotFound();
        using var sound = tests.Open(test);
        return sound is null ? Results.NotFound() : answer(sound);
    }

    private static bool IsStretch(double from, double to) =>
        double.IsFinite(from) && double.IsFinite(to) && to > from && Math.Max(Math.Abs(from), Math.Abs(to)) <= MaxSeconds;
}
