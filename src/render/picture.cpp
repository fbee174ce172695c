// SPDX-License-Identifier: GPL-3.0-or-later
#include "render/picture.hpp"

#include <QBuffer>
#include <QImage>
#include <QImageReader>

#include <fmt/format.h>

#include <cstring>

#include "core/base/file_system.hpp"

namespace grayrelic::render {

Result<Raster> read_picture(const std::filesystem::path& path) {
    std::error_code code;
    if (!std::filesystem::is_regular_file(path, code))
        return fail_system(path.string(), "no such file", "a picture");
    QImageReader::setAllocationLimit(1024);
    QImageReader reader(QString::fromStdString(path.string()));
    reader.setDecideFormatFromContent(true);
    // Only formats that are pixels: a drawing can name other files, and would read them from anywhere.
    static const QList<QByteArray> pixels{"png", "jpeg", "jpg", "bmp", "ppm", "pgm", "pbm"};
    if (!reader.canRead() || !pixels.contains(reader.format()))
        return fail_at(path.string(), 0, "no picture", "a PNG, JPEG, BMP or PPM picture");
    const auto size = reader.size();
    if (size.isValid() && static_cast<long long>(size.width()) * size.height() > most_pixels)
        return fail_at(path.string(), 0,
                       fmt::format("a picture of {} × {} pixels", size.width(), size.height()),
                       fmt::format("at most {} million pixels", most_pixels / 1'000'000));
    auto image = reader.read();
    if (image.isNull())
        return fail_at(path.string(), 0,
                       "a picture that can't be decoded: " + reader.errorString().toStdString(),
                       "a whole picture");
    image = image.convertToFormat(QImage::Format_RGB888);
    Raster out;
    out.width = image.width();
    out.height = image.height();
    out.rgb.resize(static_cast<std::size_t>(out.width) * static_cast<std::size_t>(out.height) * 3);
    for (int y = 0; y < out.height; ++y)
        std::memcpy(out.rgb.data() + static_cast<std::size_t>(y) * static_cast<std::size_t>(out.width) * 3,
                    image.constScanLine(y), static_cast<std::size_t>(out.width) * 3);
    if (auto fine = check_raster(out, path.string()); !fine) return fail(fine.error());
    return out;
}

Status write_png(const Raster& p, const std::filesystem::path& path) {
    const QImage image(p.rgb.data(), p.width, p.height, p.width * 3, QImage::Format_RGB888);
    QByteArray bytes;
    QBuffer buffer(&bytes);
    buffer.open(QIODevice::WriteOnly);
    if (!image.save(&buffer, "PNG", 0)) return fail_system(path.string(), "no way to write PNG", "one");
    return write_atomically(disk(), path,
                            std::string_view(bytes.constData(), static_cast<std::size_t>(bytes.size())));
}

}  // namespace grayrelic::render
