using QRCoder;

namespace Zoltric.Web.People;

/// <summary>Text as a picture for a phone's camera.</summary>
internal static class QrPicture
{
    /// <summary>SVG.</summary>
    public static string Of(string text)
    {
        using var data = QRCodeGenerator.GenerateQrCode(text, QRCodeGenerator.ECCLevel.M);
        using var svg = new SvgQRCode(data);
        return svg.GetGraphic(4);
    }
}
