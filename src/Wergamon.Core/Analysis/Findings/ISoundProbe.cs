namespace Wergamon.Core.Analysis.Findings;

/// <summary>Looks for one kind of thing in a sound, block by block.</summary>
internal interface ISoundProbe
{
    /// <param name="samples">Whole frames, interleaved; full scale is 1.</param>
    void Append(ReadOnlySpan<float> samples);

    /// <summary>What was found, once all samples have gone through.</summary>
    IEnumerable<Finding> Findings();
}
