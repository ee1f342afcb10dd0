using System.Buffers.Binary;
using System.Text;
using SkiaSharp;
using Zoltric.Web.Import;

namespace Zoltric.Web.Tests;

/// <summary>Pictures as phones send them: turned, large, with the place in them, or no pictures at all.</summary>
public sealed class PictureCopyTests
{
    /// <summary>Red on the left, blue on the right.</summary>
    private static byte[] Drawn(SKEncodedImageFormat format, int width = 40, int height = 20)
    {
        using var bitmap = new SKBitmap(width, height);
        using (var canvas = new SKCanvas(bitmap))
        {
            canvas.Clear(SKColors.Blue);
            using var red = new SKPaint { Color = SKColors.Red };
            canvas.DrawRect(0, 0, width / 2f, height, red);
        }
        using var image = SKImage.FromBitmap(bitmap);
        return image.Encode(format, 95).ToArray();
    }

    /// <summary>
    /// An Exif block as cameras write it after the first two bytes (CIPA DC-008): how it was held, and the place in a field of text.
    /// </summary>
    private static byte[] FromCamera(byte[] jpeg, ushort held)
    {
        byte[] place = [.. Encoding.ASCII.GetBytes("51.5007N 0.1246W"), 0];
        var tiff = new List<byte>([.. "II*\0"u8, 8, 0, 0, 0, 2, 0]);
        void Field(ushort tag, ushort type, uint count, uint value)
        {
            Span<byte> f = stackalloc byte[12];
            BinaryPrimitives.WriteUInt16LittleEndian(f, tag);
            BinaryPrimitives.WriteUInt16LittleEndian(f[2..], type);
            BinaryPrimitives.WriteUInt32LittleEndian(f[4..], count);
            BinaryPrimitives.WriteUInt32LittleEndian(f[8..], value);
            tiff.AddRange(f);
        }
        Field(0x010E, 2, (uint)place.Length, 8 + 2 + 24 + 4);
        Field(0x0112, 3, 1, held);
        tiff.AddRange([0, 0, 0, 0, .. place]);
        byte[] block = [.. "Exif\0\0"u8, .. tiff];
        var length = block.Length + 2;
        return [.. jpeg[..2], 0xFF, 0xE1, (byte)(length >> 8), (byte)length, .. block, .. jpeg[2..]];
    }

    [Fact]
    public void A_picture_is_kept_upright_and_without_the_place_it_was_taken_at()
    {
        var sent = FromCamera(Drawn(SKEncodedImageFormat.Jpeg), 6);
        Encoding.Latin1.GetString(sent).ShouldContain("51.5007N");
        var kept = PictureCopy.Of("image/jpeg", sent).ShouldNotBeNull();
        Encoding.Latin1.GetString(kept).ShouldNotContain("51.5007N");
        Encoding.Latin1.GetString(kept).ShouldNotContain("Exif");
        using var seen = SKBitmap.Decode(kept);
        (seen.Width, seen.Height).ShouldBe((20, 40));
        // Held upright the left of the sensor is up.
        seen.GetPixel(10, 5).Red.ShouldBeGreaterThan((byte)200);
        seen.GetPixel(10, 35).Blue.ShouldBeGreaterThan((byte)200);
    }

    /// <summary>Each of the eight ways against what the decoder's own library shows for it is the same corner up and left.</summary>
    [Theory]
    [InlineData(1, 5, 10, 40)]
    [InlineData(2, 35, 10, 40)]
    [InlineData(3, 35, 10, 40)]
    [InlineData(4, 5, 10, 40)]
    [InlineData(5, 10, 5, 20)]
    [InlineData(6, 10, 5, 20)]
    [InlineData(7, 10, 35, 20)]
    [InlineData(8, 10, 35, 20)]
    public void Every_way_a_camera_is_held_comes_out_upright(int held, int x, int y, int width)
    {
        using var seen = SKBitmap.Decode(PictureCopy.Of("image/jpeg", FromCamera(Drawn(SKEncodedImageFormat.Jpeg), (ushort)held)));
        seen.Width.ShouldBe(width);
        seen.GetPixel(x, y).Red.ShouldBeGreaterThan((byte)200);
    }

    [Theory]
    [InlineData("image/png", SKEncodedImageFormat.Png)]
    [InlineData("image/webp", SKEncodedImageFormat.Webp)]
    public void Its_type_stays_and_a_large_one_becomes_smaller(string type, SKEncodedImageFormat format)
    {
        var kept = PictureCopy.Of(type, Drawn(format, 4000, 100)).ShouldNotBeNull();
        JobFileReader.IsWhatItSays(type, kept).ShouldBeTrue();
        using var seen = SKBitmap.Decode(kept);
        (seen.Width, seen.Height).ShouldBe((3200, 80));
    }

    [Fact]
    public void What_is_no_picture_or_would_unfold_to_gigabytes_is_refused_and_a_document_stays_as_it_came()
    {
        PictureCopy.Of("image/jpeg", [0xFF, 0xD8, 0xFF, 1, 2, 3]).ShouldBeNull();
        PictureCopy.Of("image/png", Encoding.ASCII.GetBytes("<svg onload='1'>")).ShouldBeNull();
        var bomb = Drawn(SKEncodedImageFormat.Png);
        BinaryPrimitives.WriteInt32BigEndian(bomb.AsSpan(16), 60_000);
        BinaryPrimitives.WriteInt32BigEndian(bomb.AsSpan(20), 60_000);
        PictureCopy.Of("image/png", bomb).ShouldBeNull();
        var document = Encoding.ASCII.GetBytes("%PDF-1.7 …");
        PictureCopy.Of("application/pdf", document).ShouldBeSameAs(document);
    }
}
