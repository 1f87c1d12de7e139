using Wergamon.App.Deliver;
using Wergamon.Core.Planning;

namespace Wergamon.Web.Pages.Deliver;

/// <summary>The choices of how files are made and named.</summary>
/// <param name="Title">Title of the delivery.</param>
/// <param name="Where">What the files are on, with its article: "on the disc".</param>
/// <param name="IsBusy">True while nothing can be changed.</param>
public sealed record FilesChoice(
    string Title, IReadOnlyList<Target> Targets, Target Target, FileSettings Settings, string Where, bool IsBusy);
