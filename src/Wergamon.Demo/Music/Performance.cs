namespace Wergamon.Demo.Music;

/// <summary>Plays a piece: drums, bass, chords and a tune, bar by bar, as its style asks.</summary>
internal sealed class Performance
{
    private const int BeatsPerBar = 4;
    private static readonly int[] MajorScale = [0, 2, 4, 5, 7, 9, 11];
    private static readonly int[] MinorScale = [0, 2, 3, 5, 7, 8, 10];

    /// <summary>Chords by scale degree, one a bar.</summary>
    private static readonly int[][] Progressions = [[0, 3, 4, 0], [0, 5, 3, 4], [0, 4, 5, 3], [0, 5, 1, 4], [0, 2, 3, 4]];

    private static readonly int[] ChordDegrees = [0, 2, 4];
    private static readonly int[] WalkingBass = [0, 2, 4, 2];

    /// <summary>Note lengths of the melody in beats.</summary>
    private static readonly double[] SlowLengths = [1, 2, 2];
    private static readonly double[] QuickLengths = [0.5, 0.5, 1, 1.5];

    private readonly Piece _piece;
    private readonly Dice _dice;
    private readonly Stage _stage;
    private readonly Players _players;
    private readonly double _beat;
    private readonly int[] _scale;
    private readonly int[] _chords;
    private readonly int _bars;
    private int _tuneDegree = 4;

    private Performance(Piece piece, int rate, int channels)
    {
        _piece = piece;
        _dice = new Dice(piece.Seed);
        _beat = 60 / piece.BeatsPerMinute;
        _bars = (int)Math.Ceiling(piece.Seconds / (_beat * BeatsPerBar));
        _stage = new Stage(rate, channels, (int)((_bars * BeatsPerBar * _beat + TailSeconds) * rate));
        _players = new Players(_stage, _dice);
        _scale = piece.IsMinor ? MinorScale : MajorScale;
        _chords = _dice.Pick(Progressions);
    }

    private double TailSeconds => _piece.Style == Style.Chamber ? 2.5 : 1;

    /// <summary>The samples of the piece, one array per channel, within -1 to 1.</summary>
    public static double[][] Of(Piece piece, int rate, int channels)
    {
        var performance = new Performance(piece, rate, channels);
        for (int bar = 0; bar < performance._bars; bar++)
            performance.PlayBar(bar);
        if (piece.Style == Style.Chamber)
            performance._stage.AddRoom(0.9, 2.4);
        else if (piece.Style is Style.Songs or Style.DanceBand)
            performance._stage.AddRoom(0.25, 0.8);
        performance._stage.Master(piece.Loudness);
        return performance._stage.Lines;
    }

    private void PlayBar(int bar)
    {
        int degree = bar == _bars - 1 ? 0 : _chords[bar % _chords.Length];
        double swell = Swell(bar);
        if (_piece.Style != Style.Chamber)
            PlayDrums(bar, swell);
        PlayBass(bar, degree, swell);
        PlayChord(bar, degree, swell);
        if (bar > 0 || _piece.Style == Style.Songs)
            PlayTune(bar, degree, swell);
    }

    /// <summary>Pieces start thin and build up; chamber pieces go from very quiet to full and back.</summary>
    private double Swell(int bar)
    {
        double through = (double)bar / Math.Max(1, _bars - 1);
        double arch = 4 * through * (1 - through);
        return _piece.Style == Style.Chamber ? 0.06 + 0.94 * arch * arch : 0.6 + 0.4 * Math.Min(1, through * 3);
    }

    private int At(int bar, double beat) => (int)((bar * BeatsPerBar + beat) * _beat * _stage.Rate);

    private int Note(int degree, int octave)
    {
        int turns = degree >= 0 ? degree / 7 : (degree - 6) / 7;
        return 12 * (octave + turns) + _piece.Root + _scale[degree - 7 * turns];
    }

    private void PlayDrums(int bar, double swell)
    {
        bool club = _piece.Style is Style.Club or Style.Electronics;
        for (int beat = 0; beat < BeatsPerBar; beat++)
        {
            if (club || beat % 2 == 0)
                _players.Kick(At(bar, beat), (club ? 1.0 : 0.8) * swell);
            if (beat % 2 == 1)
                _players.Snare(At(bar, beat), (_piece.Style == Style.Songs ? 0.35 : 0.55) * swell);
            _players.Hat(At(bar, beat + 0.5), 0.35 * swell, club ? 0.12 : 0.06);
            if (club)
                _players.Hat(At(bar, beat), 0.15 * swell, 0.03);
        }

        if (_dice.Uniform() < 0.3)
            _players.Snare(At(bar, 3.5), 0.3 * swell);
    }

    private void PlayBass(int bar, int degree, double swell)
    {
        double[] beats = _piece.Style switch
        {
            Style.DanceBand => [0, 1, 2, 3],
            Style.Club or Style.Electronics => [0.5, 1.5, 2.5, 3.5],
            Style.Songs => [0, 2],
            _ => [0],
        };
        double length = _piece.Style is Style.Chamber ? BeatsPerBar * _beat : _beat * 0.45 * (_piece.Style == Style.Songs ? 3 : 1);
        for (int i = 0; i < beats.Length; i++)
        {
            int walk = _piece.Style == Style.DanceBand ? WalkingBass[i] : 0;
            _players.Bass(At(bar, beats[i]), length, Note(degree + walk, 3), 0.5 * swell);
        }
    }

    private void PlayChord(int bar, int degree, double swell)
    {
        for (int voice = 0; voice < 3; voice++)
        {
            int note = Note(degree + 2 * voice, 5);
            double place = 0.6 * (voice - 1);
            switch (_piece.Style)
            {
                case Style.Songs:
                    for (int beat = 0; beat < BeatsPerBar; beat++)
                        _players.Pluck(At(bar, beat + 0.04 * voice), _beat, note, 0.22 * swell, place);
                    break;
                case Style.DanceBand:
                    _players.Organ(At(bar, 1), _beat * 0.4, note, 0.16 * swell, place);
                    _players.Organ(At(bar, 3), _beat * 0.4, note, 0.16 * swell, place);
                    break;
                case Style.Chamber:
                    _players.Strings(At(bar, 0), _beat * BeatsPerBar, note, 0.3 * swell, place);
                    break;
                default:
                    _players.Strings(At(bar, 0), _beat * 3.4, note, 0.14 * swell, place);
                    break;
            }
        }
    }

    private void PlayTune(int bar, int degree, double swell)
    {
        double beat = 0;
        while (beat < BeatsPerBar)
        {
            double length = _dice.Pick(_piece.Style == Style.Chamber ? SlowLengths : QuickLengths);
            length = Math.Min(length, BeatsPerBar - beat);
            _tuneDegree = beat == 0 ? degree + _dice.Pick(ChordDegrees) : Math.Clamp(_tuneDegree + _dice.Below(5) - 2, -2, 9);
            if (_dice.Uniform() < 0.85)
                PlayTuneNote(At(bar, beat), length * _beat * 0.9, Note(_tuneDegree, 6), swell);
            beat += length;
        }
    }

    private void PlayTuneNote(int start, double seconds, int note, double swell)
    {
        switch (_piece.Style)
        {
            case Style.DanceBand:
                _players.Horn(start, seconds, note, 0.22 * swell, -0.3);
                break;
            case Style.Songs:
                _players.Pluck(start, seconds, note, 0.5 * swell, 0.2);
                break;
            case Style.Chamber:
                _players.Strings(start, seconds, note, 0.35 * swell, 0.05);
                break;
            default:
                _players.Bell(start, seconds, note, 0.28 * swell, 0.3);
                break;
        }
    }
}
