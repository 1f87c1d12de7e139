using Wergamon.Core.Audio;

namespace Wergamon.Core.Music;

/// <summary>Analyses the music of a signal: tempo, beats, key, and the components of energy.</summary>
public sealed class MusicAnalyser
{
    /// <summary>More than this adds nothing about a piece and is not kept.</summary>
    private static readonly TimeSpan Longest = TimeSpan.FromHours(2);

    private const float Audible = 0.001f;
    private const int BlocksPerReport = 64;

    private readonly PcmFormat _format;
    private readonly FloatSamples _floats = new();
    private readonly OnsetStrength _onsets;
    private readonly PitchOnsets _pitches;
    private readonly Chroma _chroma;
    private readonly SoundChanges _changes;
    private float[] _mono = [];
    private long _frames, _firstSound = -1, _lastSound;

    public MusicAnalyser(PcmFormat format)
    {
        _format = format;
        _onsets = new OnsetStrength(format.Rate.Hertz);
        _pitches = new PitchOnsets(format.Rate.Hertz);
        _chroma = new Chroma(format.Rate.Hertz);
        _changes = new SoundChanges(format.Rate.Hertz);
    }

    /// <summary>Reads a source to its end.</summary>
    /// <param name="reader">Any audio; stays open.</param>
    /// <param name="report">Called from time to time with the frames read so far.</param>
    public static MusicAnalysis Analyse(IPcmReader reader, Action<long> report)
    {
        var analyser = new MusicAnalyser(reader.Format);
        var block = new SampleBuffer(reader.Format);
        for (int blocks = 1; reader.Read(block) > 0; blocks++)
        {
            analyser.Append(block);
            if (blocks % BlocksPerReport == 0)
                report(analyser._frames);
        }

        return analyser.Finish();
    }

    public void Append(SampleBuffer block)
    {
        var samples = _floats.Of(block);
        int channels = _format.Channels, count = samples.Length / channels;
        if (_mono.Length < count)
            _mono = new float[count];
        for (int frame = 0; frame < count; frame++)
        {
            float sum = 0;
            foreach (float sample in samples.Slice(frame * channels, channels))
                sum += sample;
            _mono[frame] = sum / channels;
            if (MathF.Abs(sum) > Audible * channels)
            {
                _lastSound = _frames + frame;
                if (_firstSound < 0)
                    _firstSound = _lastSound;
            }
        }

        if (_frames < Longest.TotalSeconds * _format.Rate.Hertz)
        {
            _onsets.Append(_mono.AsSpan(0, count));
            _pitches.Append(_mono.AsSpan(0, count));
            _chroma.Append(_mono.AsSpan(0, count));
            _changes.Append(_mono.AsSpan(0, count));
        }

        _frames += count;
    }

    public MusicAnalysis Finish()
    {
        _onsets.Finish();
        _pitches.Finish();
        _chroma.Finish();
        _changes.Finish();
        double rate = _format.Rate.Hertz;
        var tempo = TempoEstimator.Estimate(_onsets, _pitches);
        double[] changes = [.. _changes.Strong().Select(change => tempo is { IsSteady: true } ? tempo.Grid.Nearest(change) : change)];
        return new MusicAnalysis(
            tempo, KeyEstimator.Estimate(_chroma.Values), OnsetsPerSecond(), _onsets.Brightness, Math.Max(0, _firstSound) / rate,
            _lastSound / rate)
        {
            FirstChange = changes.Length > 0 ? changes[0] : null,
            LastChange = changes.Length > 1 ? changes[^1] : null,
        };
    }

    /// <summary>Peaks of the onset strength that stand out of a tenth of a second, per second of the piece.</summary>
    private double OnsetsPerSecond()
    {
        var strengths = _onsets.Strengths;
        int reach = (int)(0.05 * _onsets.Rate);
        int count = 0;
        double threshold = strengths.Count == 0 ? 0 : 2 * strengths.Average();
        for (int i = 0; i < strengths.Count; i++)
        {
            bool isPeak = strengths[i] > threshold;
            for (int other = Math.Max(0, i - reach); isPeak && other <= Math.Min(strengths.Count - 1, i + reach); other++)
                isPeak = strengths[other] < strengths[i] || (strengths[other] == strengths[i] && other >= i);
            count += isPeak ? 1 : 0;
        }

        return _frames == 0 ? 0 : count / (_frames / (double)_format.Rate.Hertz);
    }
}
