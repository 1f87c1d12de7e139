using Wergamon.Core.Audio;

namespace Wergamon.Core.Analysis.Comparing;

/// <summary>What follows from what a null test found.</summary>
public static class NullTestFigures
{
    extension(NullTestResult result)
    {
        /// <summary>The gain in dB, without its sign.</summary>
        public double GainDecibels => Math.Abs(result.Gain) is 0 or 1 ? 0 : Decibels.FromGain(Math.Abs(result.Gain));

        /// <summary>How far the residue is below the music, in dB.</summary>
        public double BelowMusic => result.MusicDecibels - result.ResidueDecibels;

        /// <summary>Samples of all channels that were compared.</summary>
        public long ComparedSamples => result.ComparedFrames * result.Channels;
    }
}
