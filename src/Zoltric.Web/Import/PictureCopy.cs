using SkiaSharp;

namespace Zoltric.Web.Import;

/// <summary>
/// A picture as it is kept: drawn anew upright and no larger than is looked at, without what the camera wrote beside it. Where a machine
/// stands and who held the phone is nobody's business.
/// </summary>
public static class PictureCopy
{
    /// <summary>Longest side that is kept, and most points that are unpacked: a small file may unfold to gigabytes.</summary>
    private const int MostSide = 3200,
        MostPoints = 64_000_000;

    private const int Quality = 88;

    /// <summary>The picture's bytes in the same type; a document as it came; null for what cannot be read or is too large.</summary>
    /// <param name="type">One of <see cref="JobFileReader.Types"/>.</param>
    public static byte[]? Of(string type, byte[] data)
    {
        ArgumentNullException.ThrowIfNull(type);
        ArgumentNullException.ThrowIfNull(data);
        if (!type.StartsWith("image/", StringComparison.Ordinal))
            return data;
        using var kept = SKData.CreateCopy(data);
        using var codec = SKCodec.Create(kept);
        if (codec is null || (long)codec.Info.Width * codec.Info.Height is <= 0 or > MostPoints)
            return null;
        using var read = Read(codec);
        if (read is null)
            return null;
        using var upright = Upright(read, codec.EncodedOrigin);
        using var image = SKImage.FromBitmap(upright);
        using var written = image.Encode(
            type switch
            {
                "image/png" => SKEncodedImageFormat.Png,
                "image/webp" => SKEncodedImageFormat.Webp,
                _ => SKEncodedImageFormat.Jpeg,
            },
            Quality
        );
        return written?.ToArray();
    }

    private static SKBitmap? Read(SKCodec codec)
    {
        var bitmap = new SKBitmap(codec.Info.Width, codec.Info.Height, SKColorType.Rgba8888, SKAlphaType.Premul);
        // A picture that was cut off on its way is kept as far as it goes.
        if (codec.GetPixels(bitmap.Info, bitmap.GetPixels()) is SKCodecResult.Success or SKCodecResult.IncompleteInput)
            return bitmap;
        bitmap.Dispose();
        return null;
    }

    /// <summary>Turned as the camera was held, and made smaller where a side is too long.</summary>
    private static SKBitmap Upright(SKBitmap read, SKEncodedOrigin origin)
    {
        var lies =
            origin is SKEncodedOrigin.LeftTop or SKEncodedOrigin.RightTop or SKEncodedOrigin.RightBottom or SKEncodedOrigin.LeftBottom;
        var scale = Math.Min(1f, MostSide / (float)Math.Max(read.Width, read.Height));
        var (w, h) = (Math.Max(1, (int)(read.Width * scale)), Math.Max(1, (int)(read.Height * scale)));
        var upright = new SKBitmap(lies ? h : w, lies ? w : h, SKColorType.Rgba8888, SKAlphaType.Premul);
        using var canvas = new SKCanvas(upright);
        canvas.SetMatrix(Turn(origin, w, h));
        using var image = SKImage.FromBitmap(read);
        canvas.DrawImage(image, new SKRect(0, 0, w, h), new SKSamplingOptions(SKFilterMode.Linear, SKMipmapMode.Linear));
        return upright;
    }

    /// <summary>From the file's rows and columns to the upright picture; the eight ways of the Exif standard (CIPA DC-008).</summary>
    private static SKMatrix Turn(SKEncodedOrigin origin, float w, float h) =>
        origin switch
        {
            SKEncodedOrigin.TopRight => new SKMatrix(-1, 0, w, 0, 1, 0, 0, 0, 1),
            SKEncodedOrigin.BottomRight => new SKMatrix(-1, 0, w, 0, -1, h, 0, 0, 1),
            SKEncodedOrigin.BottomLeft => new SKMatrix(1, 0, 0, 0, -1, h, 0, 0, 1),
            SKEncodedOrigin.LeftTop => new SKMatrix(0, 1, 0, 1, 0, 0, 0, 0, 1),
            SKEncodedOrigin.RightTop => new SKMatrix(0, -1, h, 1, 0, 0, 0, 0, 1),
            SKEncodedOrigin.RightBottom => new SKMatrix(0, -1, h, -1, 0, w, 0, 0, 1),
            SKEncodedOrigin.LeftBottom => new SKMatrix(0, 1, 0, -1, 0, w, 0, 0, 1),
            _ => SKMatrix.Identity,
        };
}
