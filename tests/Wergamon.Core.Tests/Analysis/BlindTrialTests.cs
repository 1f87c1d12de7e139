using Wergamon.Core.Analysis;

namespace Wergamon.Core.Tests.Analysis;

public sealed class BlindTrialTests
{
    /// <summary>Against the sum of the binomial distribution, with whole numbers: the ways to be right, over all ways.</summary>
    [Fact]
    public void The_chance_of_a_score_is_the_binomial_sum()
    {
        for (int trials = 1; trials <= 30; trials++)
        {
            for (int right = 0; right <= trials; right++)
            {
                long ways = Enumerable.Range(right, trials - right + 1).Sum(k => Choose(trials, k));
                Assert.Equal((double)ways / (1L << trials), BlindTrial.ByGuessing(right, trials), 1e-12);
            }
        }
    }

    [Fact]
    public void A_seed_gives_the_same_trials_again_and_both_sounds_as_often()
    {
        byte[] seed = [1, 2, 3, 4];
        var first = Enumerable.Range(1, 1000).Select(trial => BlindTrial.IsFirst(seed, trial)).ToList();
        Assert.Equal(first, Enumerable.Range(1, 1000).Select(trial => BlindTrial.IsFirst(seed, trial)));
        Assert.InRange(first.Count(each => each), 430, 570);
        Assert.NotEqual(first, Enumerable.Range(1, 1000).Select(trial => BlindTrial.IsFirst([1, 2, 3, 5], trial)));
    }

    private static long Choose(int from, int take) => take == 0 ? 1 : Choose(from, take - 1) * (from - take + 1) / take;
}
