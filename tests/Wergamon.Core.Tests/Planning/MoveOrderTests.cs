using CsCheck;
using Wergamon.Core.Sync;

namespace Wergamon.Core.Tests.Planning;

public sealed class MoveOrderTests
{
    /// <summary>Any exchange of names, on a disk that ignores case: no move meets a file, and each file ends where it should.</summary>
    [Fact]
    public void No_file_overwrites_another()
    {
        var names = Gen.Select(Gen.Int[0, 7], Gen.Bool).Select((number, isUpper) => (isUpper ? "F" : "f") + number);
        Gen.Select(names.Array[0, 8], names.Array[8]).Sample((from, to) =>
        {
            var moves = from.Zip(to, (one, other) => new FileMove(one, other))
                .DistinctBy(move => move.From, StringComparer.OrdinalIgnoreCase)
                .DistinctBy(move => move.To, StringComparer.OrdinalIgnoreCase)
                .ToList();
            var froms = moves.Select(move => move.From).ToHashSet(StringComparer.OrdinalIgnoreCase);
            var disk = moves.ToDictionary(move => move.From, move => move, StringComparer.OrdinalIgnoreCase);
            int aside = 0;
            foreach (var (source, target) in MoveOrder.Sort(moves, path => $"{path} aside {++aside}"))
            {
                Assert.True(disk.Remove(source, out var file));
                Assert.True(disk.TryAdd(target, file));
            }

            Assert.All(disk, placed => Assert.Equal(placed.Value.To, placed.Key));
            Assert.Equal(froms.Count, disk.Count);
        }, iter: 2_000);
    }
}
