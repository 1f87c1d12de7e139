using Wergamon.App.Deliver.Discs;
using Wergamon.Devices.Burners;

namespace Wergamon.Web.Pages.Deliver;

/// <summary>A burner on the page of a disc: what is in it, and what can be inserted.</summary>
/// <param name="Here">The page.</param>
/// <param name="IsRunning">True while the disc is being made.</param>
public sealed record BurnerCard(IDiscBurner Burner, BurnerBay Bay, string Here, bool IsRunning);
