using System.Globalization;
using System.Text;
using System.Text.Json;
using Wergamon.App.Runs;
using Wergamon.Core.Naming;
using Wergamon.Web.Display;

namespace Wergamon.Web.Endpoints;

/// <summary>One line of a report.</summary>
/// <param name="Outcome">"Proved", "Failed", "Skipped" or how far it is.</param>
/// <param name="Detail">What was proved, or why it failed.</param>
internal sealed record ReportLine(
    int Number, string Title, string Outcome, string Detail, string? Path, long? BytesBefore, long? BytesAfter);

/// <summary>What a run did, to keep or to give away.</summary>
internal sealed record RunReport
{
    public required string Title { get; init; }

    public required string What { get; init; }

    public string? Folder { get; init; }

    public required DateTimeOffset Started { get; init; }

    public DateTimeOffset? Ended { get; init; }

    public required double WorkedSeconds { get; init; }

    public required int Done { get; init; }

    public required int Failed { get; init; }

    public required int Skipped { get; init; }

    public required long BytesBefore { get; init; }

    public required long BytesAfter { get; init; }

    public required IReadOnlyList<ReportLine> Items { get; init; }
}

/// <summary>Reports of runs as text and as JSON.</summary>
internal static class ReportEndpoints
{
    public static void MapReports(this WebApplication app)
    {
        app.MapGet(
            "/runs/{id:long}/report.txt",
            (long id, RunStore runs, RunScheduler scheduler, RunLabels words) => Of(id, runs, scheduler, words) is { } report
            ? Results.File(Encoding.UTF8.GetBytes(InText(report)), "text/plain; charset=utf-8", NameOf(report, ".txt"))
            : Results.NotFound());
        app.MapGet(
            "/runs/{id:long}/report.json",
            (long id, RunStore runs, RunScheduler scheduler, RunLabels words) => Of(id, runs, scheduler, words) is { } report
            ? Results.File(
                JsonSerializer.SerializeToUtf8Bytes(report, ReportJson.Default.RunReport), "application/json", NameOf(report, ".json"))
            : Results.NotFound());
    }

    private static string NameOf(RunReport report, string extension) => SafeFileName.From($"{report.Title}, report", extension);

    private static RunReport? Of(long id, RunStore runs, RunScheduler scheduler, RunLabels words)
    {
        if (runs.Get(id) is not { } run)
            return null;
        var lines = runs.Items(id).Where(item => item.IsResult || item.State == ItemState.Failed).Select((item, index) =>
        {
            var description = scheduler.Describe(item);
            var (outcome, detail) = item.State switch
            {
                ItemState.Done => (description.Outcome, description.Detail),
                ItemState.Failed => ("Failed", $"{item.Failure} {description.OnFailure}"),
                ItemState.Skipped => ("Skipped", item.Failure ?? ""),
                _ => ("Waiting", ""),
            };
            return new ReportLine(
                index + 1, item.Title, outcome, detail.Trim(), description.Path, description.BytesBefore, description.BytesAfter);
        });
        return new RunReport
        {
            Title = run.Title,
            What = words.Summary(run),
            Folder = run.OutputFolder,
            Started = DateTimeOffset.FromUnixTimeMilliseconds(run.StartedAt),
            Ended = run.EndedAt is { } ended ? DateTimeOffset.FromUnixTimeMilliseconds(ended) : null,
            WorkedSeconds = run.ActiveMs / 1000.0,
            Done = run.Done,
            Failed = run.Failed,
            Skipped = run.Skipped,
            BytesBefore = run.BytesBefore,
            BytesAfter = run.BytesAfter,
            Items = [.. lines],
        };
    }

    private static string InText(RunReport report)
    {
        var text = new StringBuilder();
        void Line(string name, string? value)
        {
            if (!string.IsNullOrEmpty(value))
                text.Append(CultureInfo.InvariantCulture, $"{name,-9} {value}\n");
        }

        text.Append(CultureInfo.InvariantCulture, $"{report.Title}\n{report.What}\n\n");
        Line("Folder", report.Folder);
        Line("Started", report.Started.ToString("yyyy-MM-dd HH:mm:ss 'UTC'", CultureInfo.InvariantCulture));
        Line("Ended", report.Ended?.ToString("yyyy-MM-dd HH:mm:ss 'UTC'", CultureInfo.InvariantCulture));
        Line("Worked", Labels.Time(TimeSpan.FromSeconds(report.WorkedSeconds)));
        Line("Done", string.Create(CultureInfo.InvariantCulture, $"{report.Done}, failed {report.Failed}, skipped {report.Skipped}"));
        if (report.BytesBefore > 0)
            Line("Size", $"{Labels.Megabytes(report.BytesBefore)} to {Labels.Megabytes(report.BytesAfter)} MB");
        foreach (var item in report.Items)
        {
            text.Append(CultureInfo.InvariantCulture, $"\n{item.Number,4}. {item.Title}: {item.Outcome}\n");
            if (item.Detail.Length > 0)
                text.Append(CultureInfo.InvariantCulture, $"      {item.Detail}\n");
            if (item.Path is not null)
                text.Append(CultureInfo.InvariantCulture, $"      {item.Path}\n");
        }

        return text.ToString();
    }
}
