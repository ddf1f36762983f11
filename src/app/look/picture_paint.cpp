#include "app/look/picture_paint.h"

#include "core/image/tiles.h"
#include "core/settings/parameter.h"

#include <algorithm>
#include <cmath>

namespace noctis {

QImage toQImage(const Image& encoded) {
    if (encoded.empty())
        return {};
    QImage out(encoded.width(), encoded.height(), QImage::Format_RGB32);
    auto* bits = reinterpret_cast<QRgb*>(out.bits());
    const qsizetype stride = out.bytesPerLine() / qsizetype{sizeof(QRgb)};
    forEachBand(encoded.height(), 32, {}, [&](int y0, int y1) {
        const auto byte = [](float v) { return static_cast<int>(v * 255.0F + 0.5F); };
        for (int y = y0; y < y1; ++y) {
            const float* r = encoded.row(0, y);
            const float* g = encoded.row(1, y);
            const float* b = encoded.row(2, y);
            QRgb* to = bits + stride * y;
            for (int x = 0; x < encoded.width(); ++x)
                to[x] = qRgb(byte(r[x]), byte(g[x]), byte(b[x]));
        }
    });
    return out;
}

QImage greyQImage(const Image& mask) {
    if (mask.empty())
        return {};
    QImage out(mask.width(), mask.height(), QImage::Format_Grayscale8);
    for (int y = 0; y < mask.height(); ++y) {
        const float* from = mask.row(0, y);
        uchar* to = out.scanLine(y);
        for (int x = 0; x < mask.width(); ++x)
            to[x] = static_cast<uchar>(std::clamp(from[x], 0.0F, 1.0F) * 255.0F + 0.5F);
    }
    return out;
}

QString metresText(float metres) {
    return std::isfinite(metres) ? qstring(formatNumber(metres, Unit::Metre))
                                 : QStringLiteral("nothing hit");
}

QString qstring(const std::string& text) { return QString::fromStdString(text); }
QString qstring(std::string_view text) {
    return QString::fromUtf8(text.data(), static_cast<qsizetype>(text.size()));
}

}  // namespace noctis
