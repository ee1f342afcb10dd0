using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.ModelBinding;
using Microsoft.AspNetCore.Mvc.Razor;
using Microsoft.AspNetCore.Mvc.Rendering;
using Microsoft.AspNetCore.Mvc.ViewFeatures;

namespace Zoltric.Web.Pages;

/// <summary>Renders a partial view to text.</summary>
public sealed class PartialRenderer(IRazorViewEngine engine, ITempDataProvider tempData, IModelMetadataProvider metadata)
{
    /// <param name="path">From the content root, <c>/Pages/Report/_ReportBody.cshtml</c>.</param>
    /// <exception cref="InvalidOperationException">When there is no such view.</exception>
    public async Task<string> Render<TModel>(ActionContext context, string path, TModel model)
    {
        ArgumentNullException.ThrowIfNull(context);
        var view = engine.GetView(null, path, isMainPage: false).EnsureSuccessful(null).View!;
        await using var writer = new StringWriter();
        var data = new ViewDataDictionary<TModel>(metadata, new ModelStateDictionary()) { Model = model };
        var temp = new TempDataDictionary(context.HttpContext, tempData);
        await view.RenderAsync(new ViewContext(context, view, data, temp, writer, new HtmlHelperOptions()));
        return writer.ToString();
    }
}
