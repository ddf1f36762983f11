#include "app/picture/pass_prints.h"

#include "app/look/picture_paint.h"
#include "app/look/theme.h"
#include "core/passes/appearance.h"
#include "core/passes/statistics.h"
#include "core/settings/counted.h"
#include "core/tracer/pass_state.h"

#include <QAbstractButton>
#include <QContextMenuEvent>
#include <QMenu>
#include <QPainter>
#include <QVBoxLayout>

#include <algorithm>
#include <utility>

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

QString helpOf(const Pass& pass) {
    QString help = qstring(passKindInfo(pass.kind).meaning);
    if (pass.derived)
        help += QObject::tr("\nDerived from the measured passes.");
    if (pass.interpretation)
        help += QObject::tr("\nRead as %1.").arg(qstring(describe(*pass.interpretation)));
    if (const auto traced = pass.settings.find(kTracedSetting); traced != pass.settings.end())
        help += QObject::tr("\nStopped by its noise or time limit at %1 samples per pixel.")
                    .arg(qstring(traced->second).replace('-', "–"));
    for (const std::string& warning : pass.warnings)
        help += QLatin1Char('\n') + qstring(warning);
    return help.trimmed();
}

PassPrint printOf(const Pass& pass, bool alone) {
    const int factor = std::max(1, pass.image.width() / (kPrintWidth * 2));
    return {qstring(pass.name),
            labelOfPrint(pass, alone),
            rangeText(pass),
            helpOf(pass),
            toQImage(appearanceOf(shrink(pass, factor))),
            pass.derived,
            !pass.warnings.empty()};
}

class Print : public QAbstractButton {
public:
    using Export = std::function<void(const QString& name)>;
    Print(PassPrint print, Export exportIt, QWidget* parent)
        : QAbstractButton(parent), m_print(std::move(print)), m_export(std::move(exportIt)) {
        const QSize size = m_print.image.size();
        const int tall = kPrintWidth * size.height() / std::max(1, size.width());
        setFixedSize(kPrintWidth + 4, std::clamp(tall, 24, 140) + 26);
        setCheckable(true);
        setFocusPolicy(Qt::StrongFocus);
        setObjectName(m_print.name);
        setAccessibleName(tr("%1 pass").arg(m_print.label));
        setToolTip(m_print.help);
    }

    /// why: empty unless it is stale.
    void setStale(const QString& why) {
        m_stale = !why.isEmpty();
        setToolTip(m_stale ? tr("Stale: %1.\n%2").arg(why, m_print.help) : m_print.help);
        update();
    }

protected:
    void paintEvent(QPaintEvent*) override {
        QPainter painter(this);
        painter.setRenderHint(QPainter::Antialiasing);
        painter.setRenderHint(QPainter::SmoothPixmapTransform);
        const QRectF place(2, 2, width() - 4, height() - 26);
        painter.drawImage(place, m_print.image);
        if (isChecked()) {
            painter.setPen(QPen(theme::kText, 2));
            painter.drawRect(place.adjusted(-1, -1, 1, 1));
        }
        const qreal line = height() - 12;
        painter.setPen(Qt::NoPen);
        painter.setBrush(m_print.warns || m_stale ? theme::kWarning : theme::kAccent);
        if (m_print.derived && !m_stale) {
            painter.setPen(QPen(theme::kQuiet, 1.2));
            painter.setBrush(Qt::NoBrush);
        }
        painter.drawEllipse(QPointF(6, line), 3, 3);
        const QRectF foot(14, line - 9, width() - 16, 18);
        painter.setPen(m_stale ? theme::kWarning : theme::kQuiet);
        painter.setFont(theme::font(11));
        const QString range = m_stale ? tr("stale") : m_print.range;
        painter.drawText(foot, Qt::AlignVCenter | Qt::AlignRight, range);
        const int taken = range.isEmpty() ? 0 : painter.fontMetrics().horizontalAdvance(range);
        painter.setFont(theme::font(12));
        painter.setPen(theme::kText);
        const int room = static_cast<int>(foot.width()) - (taken > 0 ? taken + kGap : 0);
        painter.drawText(foot, Qt::AlignVCenter,
                         painter.fontMetrics().elidedText(m_print.label, Qt::ElideRight, room));
    }

    void contextMenuEvent(QContextMenuEvent* event) override {
        QMenu menu;
        menu.addAction(tr("Export this pass…"), this, [this] { m_export(m_print.name); });
        menu.exec(event->globalPos());
    }

private:
    PassPrint m_print;
    Export m_export;
    bool m_stale = false;
};

}  // namespace

std::vector<PassPrint> printsOf(const PassSet& measured, const std::vector<Pass>& derived) {
    std::vector<const Pass*> passes;
    for (const Pass& pass : measured.passes)
        passes.push_back(&pass);
    for (const Pass& pass : derived)
        passes.push_back(&pass);
    std::vector<PassPrint> prints;
    for (const Pass* pass : passes)
        prints.push_back(printOf(*pass, std::ranges::count(passes, pass->kind, [](auto each) {
                                            return each->kind;
                                        }) == 1));
    return prints;
}

PassPrints::PassPrints(QWidget* parent) : QScrollArea(parent) {
    setWidgetResizable(true);
    setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    setFrameShape(QFrame::NoFrame);
    setFocusPolicy(Qt::NoFocus);  // its prints have it
    setFixedWidth(150);
}

void PassPrints::setPrints(const std::vector<PassPrint>& prints) {
    auto* column = new QWidget;
    auto* layout = new QVBoxLayout(column);
    layout->setContentsMargins(10, 0, 8, 8);
    layout->setSpacing(6);
    for (const PassPrint& each : prints) {
        auto* print = new Print(
            each, [this](const QString& name) { Q_EMIT exportAsked(name); }, column);
        print->setChecked(each.name == m_chosen);
        connect(print, &QAbstractButton::clicked, this, [this, name = each.name](bool on) {
            setChosen(on ? name : QString());
            Q_EMIT chosen(m_chosen);
        });
        layout->addWidget(print);
    }
    layout->addStretch(1);
    setWidget(column);
    showStates();
}

void PassPrints::setStates(const std::map<std::string, PassState>& states) {
    if (states == m_states)
        return;
    m_states = states;
    showStates();
}

void PassPrints::showStates() {
    if (widget() == nullptr)
        return;
    for (auto* button : widget()->findChildren<QAbstractButton*>()) {
        const auto state = m_states.find(button->objectName().toStdString());
        const bool stale = state != m_states.end() && state->second.kind == PassState::Kind::Stale;
        static_cast<Print*>(button)->setStale(stale ? qstring(state->second.why) : QString());
    }
}

void PassPrints::setChosen(const QString& name) {
    m_chosen = name;
    if (widget() != nullptr)
        for (auto* print : widget()->findChildren<QAbstractButton*>())
            print->setChecked(print->objectName() == name);
}

}  // namespace noctis
