namespace Wergamon.Core.Jobs;

/// <summary>How far the job is.</summary>
/// <param name="Done">Frames of the source processed so far.</param>
/// <param name="Total">Frames of the source in all, if known.</param>
/// <param name="Proving">True while the result is being read back.</param>
public sealed record WorkerProgress(long Done, long Total, bool Proving);
