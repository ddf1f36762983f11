#include "app/picture/pass_prints.h"

#include "app/look/picture_paint.h"
#include "app/look/theme.h"
#include "core/passes/appearance.h"
#include "core/passes/statistics.h"
#include "core/settings/counted.h"
#include "core/tracer/pass_state.h"

#include <QAbstractButton>
#include <QPainter>
#include <QVBoxLayout>

namespace noctis {

namespace {

constexpr int kPrintWidth = 126;
constexpr int kGap = 6;  ///< px, between a label and its range

QString rangeText(const Pass& pass) {
    if (passKindInfo(pass.kind).matte())
        return qstring(counted(pass.manifest.size(), "name"));
    if (passKindInfo(pass.kind).look == PassLook::Direction || pass.kind == PassKind::Position)
        return qstring(pass.space);
    if (pass.kind == PassKind::Beauty) {
        auto samples = pass.settings.find(kTracedSetting);
        if (samples == pass.settings.end())
            samples = pass.settings.find("samples");
        if (samples == pass.settings.end())
            return {};
        const QStringList fromTo = qstring(samples->second).split('-');
        const QString most = qstring(counted(fromTo.back().toULong(), "sample"));
        return fromTo.size() > 1 ? QStringLiteral("≤ ") + most : most;
    }
    const Statistics s = statisticsOf(pass.image, 0);
    if (pass.kind == PassKind::Depth || pass.kind == PassKind::Distance)
        return QStringLiteral("%1 – %2 m")
            .arg(static_cast<double>(s.minimum), 0, 'f', 1)
            .arg(static_cast<double>(s.maximum), 0, 'f', s.maximum < 100.0F ? 1 : 0);
    if (pass.kind == PassKind::Occlusion) {
        const auto reach = pass.settings.find("reach");
        return reach == pass.settings.end() || reach->second == "0"
                   ? QString()
                   : QObject::tr("reach %1 m").arg(qstring(reach->second));
    }
    return {};
}

/// `alone`: no other pass is of this kind, so that the kind names it.
QString labelOfPrint(const Pass& pass, bool alone) {
    if (pass.kind != PassKind::Colour) {
        const auto name = passNamed(pass.name);
        return name || alone ? qstring(labelOf(name.value_or(PassName{pass.kind, {}})))
                             : qstring(pass.name);
    }
    const std::string_view name = pass.name;
    const std::string ending = noisyName({});
    const auto cleaned = name.ends_with(ending)
                             ? passNamed(name.substr(0, name.size() - ending.size()))
                             : std::nullopt;
    return cleaned ? QObject::tr("%1, noisy").arg(qstring(labelOf(*cleaned))) : qstring(pass.name);
}

class Print : public QAbstractButton {
public:
    Print(const Pass& pass, bool alone, const QString& staleReason, QWidget* parent)
        : QAbstractButton(parent), m_label(labelOfPrint(pass, alone)), m_range(rangeText(pass)),
          m_derived(pass.derived), m_warns(!pass.warnings.empty()),
          m_stale(!staleReason.isEmpty() && !pass.derived) {
        const int factor = std::max(1, pass.image.width() / (kPrintWidth * 2));
        m_image = toQImage(appearanceOf(shrink(pass, factor)));
        const int tall = kPrintWidth * m_image.height() / std::max(1, m_image.width());
        setFixedSize(kPrintWidth + 4, std::clamp(tall, 24, 140) + 26);
        setCheckable(true);
        setFocusPolicy(Qt::StrongFocus);
        setObjectName(qstring(pass.name));
        setAccessibleName(tr("%1 pass").arg(m_label));
        QString help = qstring(passKindInfo(pass.kind).meaning);
        if (pass.derived)
            help += tr("\nDerived from the measured passes.");
        if (pass.interpretation)
            help += tr("\nRead as %1.").arg(qstring(describe(*pass.interpretation)));
        if (const auto traced = pass.settings.find(kTracedSetting); traced != pass.settings.end())
            help += tr("\nStopped by its noise or time limit at %1 samples per pixel.")
                        .arg(qstring(traced->second).replace('-', "–"));
        for (const std::string& warning : pass.warnings)
            help += QLatin1Char('\n') + qstring(warning);
        if (m_stale)
            help += QLatin1Char('\n') + staleReason;
        setToolTip(help.trimmed());
    }

protected:
    void paintEvent(QPaintEvent*) override {
        QPainter painter(this);
        painter.setRenderHint(QPainter::Antialiasing);
        painter.setRenderHint(QPainter::SmoothPixmapTransform);
        const QRectF place(2, 2, width() - 4, height() - 26);
        painter.drawImage(place, m_image);
        if (isChecked()) {
            painter.setPen(QPen(theme::kText, 2));
            painter.drawRect(place.adjusted(-1, -1, 1, 1));
        }
        const qreal line = height() - 12;
        painter.setPen(Qt::NoPen);
        painter.setBrush(m_warns || m_stale ? theme::kWarning : theme::kAccent);
        if (m_derived) {
            painter.setPen(QPen(theme::kQuiet, 1.2));
            painter.setBrush(Qt::NoBrush);
        }
        painter.drawEllipse(QPointF(6, line), 3, 3);
        const QRectF foot(14, line - 9, width() - 16, 18);
        painter.setPen(theme::kQuiet);
        painter.setFont(theme::font(11));
        painter.drawText(foot, Qt::AlignVCenter | Qt::AlignRight, m_range);
        const int taken = m_range.isEmpty() ? 0 : painter.fontMetrics().horizontalAdvance(m_range);
        painter.setFont(theme::font(12));
        painter.setPen(theme::kText);
        const int room = static_cast<int>(foot.width()) - (taken > 0 ? taken + kGap : 0);
        painter.drawText(foot, Qt::AlignVCenter,
                         painter.fontMetrics().elidedText(m_label, Qt::ElideRight, room));
    }

private:
    QImage m_image;
    QString m_label;
    QString m_range;
    bool m_derived;
    bool m_warns;
    bool m_stale;
};

}  // namespace

PassPrints::PassPrints(QWidget* parent) : QScrollArea(parent) {
    setWidgetResizable(true);
    setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    setFrameShape(QFrame::NoFrame);
    setFocusPolicy(Qt::NoFocus);  // its prints have it
    setFixedWidth(150);
}

void PassPrints::setPasses(const std::vector<Pass>& passes, const QString& staleReason) {
    auto* column = new QWidget;
    auto* layout = new QVBoxLayout(column);
    layout->setContentsMargins(10, 0, 8, 8);
    layout->setSpacing(6);
    for (const Pass& pass : passes) {
        const bool alone =
            std::ranges::count(passes, pass.kind, [](const Pass& each) { return each.kind; }) == 1;
        auto* print = new Print(pass, alone, staleReason, column);
        print->setChecked(qstring(pass.name) == m_chosen);
        connect(print, &QAbstractButton::clicked, this, [this, name = qstring(pass.name)](bool on) {
            setChosen(on ? name : QString());
            Q_EMIT chosen(m_chosen);
        });
        layout->addWidget(print);
    }
    layout->addStretch(1);
    setWidget(column);
}

void PassPrints::setChosen(const QString& name) {
    m_chosen = name;
    if (widget() != nullptr)
        for (auto* print : widget()->findChildren<QAbstractButton*>())
            print->setChecked(print->objectName() == name);
}

}  // namespace noctis
