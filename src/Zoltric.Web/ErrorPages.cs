using Zoltric.Core.Solving;

namespace Zoltric.Web;

/// <summary>What cannot be answered is said in a page to a person, and as problem details (RFC 9457) to a program.</summary>
internal static class ErrorPages
{
    private const string Page = "/trouble";

    public static void UseErrorPages(this WebApplication app)
    {
        static int StatusOf(Exception e) =>
            e switch
            {
                BadHttpRequestException bad => bad.StatusCode,
                TooMuchWorkException => StatusCodes.Status422UnprocessableEntity,
                // Nobody waits for the answer any more.
                OperationCanceledException => StatusCodes.Status499ClientClosedRequest,
                _ => StatusCodes.Status500InternalServerError,
            };
        app.UseWhen(
            context => !IsPerson(context.Request),
            programs =>
            {
                programs.UseExceptionHandler(new ExceptionHandlerOptions { StatusCodeSelector = StatusOf });
                programs.UseStatusCodePages();
            }
        );
        app.UseWhen(
            context => IsPerson(context.Request),
            people =>
            {
                people.UseExceptionHandler(new ExceptionHandlerOptions { ExceptionHandlingPath = Page, StatusCodeSelector = StatusOf });
                people.UseStatusCodePagesWithReExecute(Page);
            }
        );
    }

    /// <summary>A browser that opens a page: a part of one that htmx asks for has words of its own where it stands.</summary>
    private static bool IsPerson(HttpRequest request) =>
        request.Headers.Accept.ToString().Contains("text/html", StringComparison.OrdinalIgnoreCase)
        && !request.Headers.ContainsKey("HX-Request")
        && !request.Path.StartsWithSegments("/api")
        && !request.Path.StartsWithSegments("/openapi");
}
