using System.Diagnostics;
using Microsoft.AspNetCore.Diagnostics;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace Zoltric.Web.Pages.Trouble;

/// <summary>Stands for a page that cannot be shown: why, what still stands, and where to go on.</summary>
[IgnoreAntiforgeryToken]
public sealed class IndexModel : PageModel
{
    /// <summary>HTTP status of the answer that this page stands for.</summary>
    public int Status => HttpContext.Response.StatusCode;

    public bool IsOurs => Status >= StatusCodes.Status500InternalServerError;

    /// <summary>Finds the request in the server's log.</summary>
    public string Trace => Activity.Current?.Id ?? HttpContext.TraceIdentifier;

    public string Head =>
        Status switch
        {
            StatusCodes.Status404NotFound => "There is nothing at this address",
            StatusCodes.Status403Forbidden => "That is not yours to do here",
            StatusCodes.Status405MethodNotAllowed => "This address cannot be opened by itself",
            StatusCodes.Status413PayloadTooLarge => "That is too large",
            StatusCodes.Status429TooManyRequests => "Too much at once",
            StatusCodes.Status422UnprocessableEntity => "That is too much to compute",
            _ when IsOurs => "Something went wrong here",
            _ => "That could not be read",
        };

    public string Why =>
        Status switch
        {
            StatusCodes.Status404NotFound => "The job or sheet may have another number, or was never kept on this server.",
            StatusCodes.Status403Forbidden => "Ask a lead of this workshop.",
            StatusCodes.Status405MethodNotAllowed => "Go back and use the button on the page.",
            StatusCodes.Status413PayloadTooLarge => "Nothing of it was kept. Send a smaller file.",
            StatusCodes.Status422UnprocessableEntity => HttpContext.Features.Get<IExceptionHandlerFeature>()?.Error.Message
                ?? "Take the part of the sheet that the complaint is about.",
            StatusCodes.Status429TooManyRequests => "Wait a moment, then try again. Nothing was kept twice.",
            _ when IsOurs => "What was kept before still stands. Go back: if what you sent is not there, send it once more.",
            _ => "Nothing of it was kept. Go back and look at what was typed.",
        };
}
