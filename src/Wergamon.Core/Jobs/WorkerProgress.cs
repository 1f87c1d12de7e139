using System.Text.Json.Serialization;
using Wergamon.Core.Analysis;
using Wergamon.Core.Analysis.Comparing;
using Wergamon.Core.Analysis.Findings;
using Wergamon.Core.Audio;
using Wergamon.Core.Formats;
using Wergamon.Core.Music;
using Wergamon.Core.Planning;
using Wergamon.Core.Tags;

namespace Wergamon.Core.Jobs;

/// <summary>How far the job is.</summary>
/// <param name="Done">Frames of the source processed so far.</param>
/// <param name="Total">Frames of the source in all, as far as known.</param>
/// <param name="Proving">True while the result is being read back.</param>
public sealed record WorkerProgress(long Done, long Total, bool Proving);
