namespace Wergamon.Core.Music;

/// <summary>A grid of evenly spaced beats.</summary>
/// <param name="BeatsPerMinute">More than 0.</param>
/// <param name="FirstBeat">Seconds from the start of the file to the first beat that sounds.</param>
public readonly record struct BeatGrid(double BeatsPerMinute, double FirstBeat)
{
    public double Period => 60 / BeatsPerMinute;

    /// <summary>Time of a beat, counted from 0.</summary>
    public double At(int beat) => FirstBeat + beat * Period;

    /// <summary>The beat nearest to a time, not before the start of the file.</summary>
    public double Nearest(double seconds)
    {
        double beat = Math.Round((seconds - FirstBeat) / Period);
        return At((int)Math.Max(beat, Math.Ceiling(-FirstBeat / Period)));
    }
}
