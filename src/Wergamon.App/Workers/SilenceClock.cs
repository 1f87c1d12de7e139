using System.Diagnostics;
using System.Globalization;

namespace Wergamon.App.Workers;

/// <summary>
/// How long a process has been silent although it could have worked: the time that its threads waited for a processor or for a disk is
/// excluded, so that a busy machine does not make a healthy process look hung.
/// </summary>
internal sealed class SilenceClock(int processId)
{
    private readonly Stopwatch _watch = Stopwatch.StartNew();
    private TimeSpan _seen, _waited = WaitedForProcessor(processId);

    /// <summary>The silence so far, as of the last <see cref="Look"/>.</summary>
    public TimeSpan Silence { get; private set; }

    /// <summary>Adds the part of the time since the last call that counts. To be called about once a second.</summary>
    public void Look()
    {
        var (now, waited) = (_watch.Elapsed, WaitedForProcessor(processId));
        var (passed, delayed) = (now - _seen, waited - _waited);
        (_seen, _waited) = (now, waited);
        if (IsWaitingForDisk(processId))
            return;
        // The figures of threads that end are lost; then the difference is negative and says nothing. A wait is counted only once it is
        // over, so it may be longer than the time since the last look.
        var silence = Silence + passed - (delayed > TimeSpan.Zero ? delayed : TimeSpan.Zero);
        Silence = silence > TimeSpan.Zero ? silence : TimeSpan.Zero;
    }

    /// <summary>
    /// The time that the threads of a process were ready to run and no processor was free (schedstat as in the kernel's scheduler
    /// documentation: second figure, in nanoseconds).
    /// </summary>
    private static TimeSpan WaitedForProcessor(int processId) => Sum(processId, "schedstat", text =>
        text.Split(' ') is [_, var delay, ..] && long.TryParse(delay, NumberStyles.None, CultureInfo.InvariantCulture, out long nanoseconds)
            ? TimeSpan.FromTicks(nanoseconds / TimeSpan.NanosecondsPerTick)
            : TimeSpan.Zero);

    /// <summary>
    /// True while a thread is in a wait for a disk that no signal ends (proc(5), stat: state D, behind the name in parentheses).
    /// </summary>
    private static bool IsWaitingForDisk(int processId) =>
        Sum(
            processId, "stat",
            text => text.LastIndexOf(") D ", StringComparison.Ordinal) > 0 ? TimeSpan.FromTicks(1) : TimeSpan.Zero) > TimeSpan.Zero;

    /// <summary>Adds up a figure of all threads; zero if the system does not provide it.</summary>
    private static TimeSpan Sum(int processId, string file, Func<string, TimeSpan> read)
    {
        var sum = TimeSpan.Zero;
        try
        {
            foreach (var thread in Directory.EnumerateDirectories($"/proc/{processId.ToString(CultureInfo.InvariantCulture)}/task"))
                sum += ReadOne(Path.Combine(thread, file), read);
        }
        catch (Exception failure) when (failure is IOException or UnauthorizedAccessException)
        {
            // The process has ended, or this system has no such folder.
        }

        return sum;
    }

    private static TimeSpan ReadOne(string path, Func<string, TimeSpan> read)
    {
        try
        {
            return read(File.ReadAllText(path));
        }
        catch (Exception failure) when (failure is IOException or UnauthorizedAccessException)
        {
            return TimeSpan.Zero;
        }
    }
}
