using Wergamon.Codecs;
using Wergamon.Core.Formats.Registry;

namespace Wergamon.Worker.Tests;

/// <summary>The check that a worker makes of its codecs at its start.</summary>
public sealed class CodecCheckTests
{
    [Fact]
    public void All_codecs_of_this_machine_work()
    {
        LibAvPresence.Silence();
        Assert.All(FileFormats.Writable, format => Assert.Null(CodecCheck.ComplaintOf(format)));
    }

    [Fact]
    public void Short_late_exchanged_or_unequal_audio_is_found()
    {
        var known = CodecCheck.KnownSound();
        double[] right = [.. known.Integers.ToArray().Select(sample => (double)sample)];
        Assert.Null(CodecCheck.Judge(known, right, isLossy: true));
        Assert.Null(CodecCheck.Judge(known, right, isLossy: false));
        Assert.NotNull(CodecCheck.Judge(known, right[..^2], isLossy: true));
        Assert.NotNull(CodecCheck.Judge(known, [.. right[4..], 0, 0, 0, 0], isLossy: true));
        Assert.NotNull(CodecCheck.Judge(known, [.. right.Select((_, i) => right[i ^ 1])], isLossy: true));
        Assert.NotNull(CodecCheck.Judge(known, [.. right.Select(sample => sample / 2)], isLossy: true));
        Assert.NotNull(CodecCheck.Judge(known, [.. right.Select((sample, i) => i == 777 ? sample + 1 : sample)], isLossy: false));
    }
}
