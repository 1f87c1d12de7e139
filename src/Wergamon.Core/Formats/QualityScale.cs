namespace Wergamon.Core.Formats;

/// <summary>A way to choose the quality of a format, step by step.</summary>
/// <param name="Name">Identifies the scale within the format: "constant".</param>
/// <param name="Label">What is chosen: "Quality", "Compression".</param>
/// <param name="Steps">From the smallest or quickest to the best or slowest.</param>
/// <param name="Usual">One of the steps.</param>
/// <param name="FirstEnd">What the first step is, in a word or two.</param>
/// <param name="LastEnd">What the last step is.</param>
public sealed record QualityScale(
    string Name, string Label, IReadOnlyList<EncoderSettings> Steps, EncoderSettings Usual, string FirstEnd, string LastEnd)
{
    /// <summary>Index of the settings on the scale; -1 when they are not on it.</summary>
    public int IndexOf(EncoderSettings settings)
    {
        for (int at = 0; at < Steps.Count; at++)
        {
            if (Steps[at] == settings)
                return at;
        }

        return -1;
    }
}
