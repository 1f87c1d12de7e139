using System.Diagnostics;
using Wergamon.App.Workers;

namespace Wergamon.App.Tests.Runs;

/// <summary>On the processes of this system, by what its kernel tells about them.</summary>
public sealed class SilenceClockTests : IDisposable
{
    private readonly List<Process> _processes = [];

    public void Dispose()
    {
        foreach (var process in _processes)
        {
            process.Kill();
            process.WaitForExit();
            process.Dispose();
        }
    }

    /// <summary>
    /// A process that wants to work beside others that hold its only processor is silent for as long as it runs, not for as long as it
    /// waits.
    /// </summary>
    [Fact]
    public void Waiting_for_a_processor_is_no_silence()
    {
        var starved = Start("taskset", "-c", FirstProcessor(), "nice", "-n", "19", "sh", "-c", "while :; do :; done");
        for (int i = 0; i < 3; i++)
            Start("taskset", "-c", FirstProcessor(), "sh", "-c", "while :; do :; done");
        var clock = new SilenceClock(starved.Id);
        var (watch, before) = (Stopwatch.StartNew(), starved.TotalProcessorTime);
        for (int i = 0; i < 20; i++)
        {
            Thread.Sleep(200);
            clock.Look();
        }

        starved.Refresh();
        var (passed, used) = (watch.Elapsed, starved.TotalProcessorTime - before);
        Assert.True(used < passed / 2, $"It used {used} of {passed}: nothing held its processor.");
        Assert.True(clock.Silence < passed * 0.6, $"{clock.Silence} of {passed} counted, used {used}");
    }

    [Fact]
    public void A_process_that_does_nothing_is_silent()
    {
        var sleeper = Start("sleep", "1000");
        var watch = Stopwatch.StartNew();
        var clock = new SilenceClock(sleeper.Id);
        Thread.Sleep(1000);
        clock.Look();
        Assert.InRange(clock.Silence, TimeSpan.FromSeconds(0.5), watch.Elapsed);
    }

    private static string FirstProcessor()
    {
        var allowed = File.ReadLines("/proc/self/status").First(line => line.StartsWith("Cpus_allowed_list:", StringComparison.Ordinal));
        return allowed.Split(':')[1].Trim().Split(',', '-')[0];
    }

    private Process Start(string program, params string[] arguments)
    {
        var process = Process.Start(program, arguments);
        _processes.Add(process);
        return process;
    }
}
