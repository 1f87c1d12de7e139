using Wergamon.App.Files;
using Wergamon.Testing;

namespace Wergamon.App.Tests.Runs;

/// <summary>Copies that are read back, on a file system that can pass the kernel's memory and on one in memory that may not.</summary>
public sealed class ProvedCopyTests : IDisposable
{
    private readonly TemporaryFolder _disk = new();
    private readonly string _memory = Path.Combine(
        Directory.Exists("/dev/shm") ? "/dev/shm" : Path.GetTempPath(), $"wergamon-test-{Guid.NewGuid():N}");

    public void Dispose()
    {
        _disk.Dispose();
        Directory.Delete(_memory, recursive: true);
    }

    /// <summary>Whole pages, parts of pages, and more than a block.</summary>
    [Fact]
    public void Any_length_arrives_and_another_byte_is_found()
    {
        Directory.CreateDirectory(_memory);
        var random = new Random(1);
        foreach (var folder in new[] { _disk.Path, _memory })
        {
            foreach (int length in (int[])[0, 1, 4095, 4096, 4097, (1 << 20) - 1, 1 << 20, (1 << 20) + 1, 3_000_000])
            {
                var bytes = new byte[length];
                random.NextBytes(bytes);
                var path = Path.Combine(folder, $"{length}");
                double share = 0;
                var hash = ProvedCopy.Write(new MemoryStream(bytes), path, done => share = done, CancellationToken.None);
                Assert.Equal(length > 0 ? 1 : 0, share);
                ProvedCopy.Prove(path, hash, _ => { }, CancellationToken.None);
                Assert.Equal(bytes, File.ReadAllBytes(path));
                if (length == 0)
                    continue;
                bytes[length / 2] ^= 1;
                File.WriteAllBytes(path, bytes);
                Assert.Throws<IOException>(() => ProvedCopy.Prove(path, hash, _ => { }, CancellationToken.None));
            }
        }
    }
}
