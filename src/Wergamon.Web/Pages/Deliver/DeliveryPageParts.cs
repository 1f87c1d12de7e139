using Wergamon.App.Deliver;
using Wergamon.App.Deliver.Discs;
using Wergamon.App.Runs;

namespace Wergamon.Web.Pages.Deliver;

/// <summary>The services that the page of every delivery needs.</summary>
public sealed record DeliveryPageParts(
    DeliveryStore Store, DeliveryRuns Starts, BurnerBay Bay, RunStore Runs, RunProgress Progress, RunScheduler Scheduler,
    DeliveryOutcomes Outcomes);
