#include "app/survey/views_strip.h"

#include "app/look/picture_paint.h"
#include "app/look/theme.h"
#include "core/tracer/render.h"

#include <QAbstractButton>
#include <QHBoxLayout>
#include <QPainter>
#include <QPushButton>

namespace noctis {

namespace {

constexpr int kWidth = 96;
constexpr int kHeight = 54;
constexpr int kSamples = 6;

class ViewCard : public QAbstractButton {
public:
    ViewCard(const QString& name, const QImage& image) : m_image(image) {
        setText(name);
        setAccessibleName(QObject::tr("View %1").arg(name));
        setToolTip(QObject::tr("Looks from %1.").arg(name));
        setObjectName(name);
        setCheckable(true);
        setFocusPolicy(Qt::StrongFocus);
        setFixedSize(kWidth + 4, kHeight + 24);
    }

protected:
    void paintEvent(QPaintEvent*) override {
        QPainter painter(this);
        painter.setRenderHint(QPainter::SmoothPixmapTransform);
        const QRect place(2, 2, kWidth, kHeight);
        painter.fillRect(place, theme::kRaised);
        if (!m_image.isNull())
            painter.drawImage(place, m_image);
        if (isChecked() || hasFocus()) {
            painter.setPen(QPen(isChecked() ? theme::kText : theme::kAccent, 2));
            painter.drawRect(place.adjusted(-1, -1, 0, 0));
        }
        painter.setFont(theme::font(12));
        painter.setPen(isChecked() ? theme::kText : theme::kQuiet);
        painter.drawText(QRect(2, kHeight + 4, kWidth, 18), Qt::AlignVCenter,
                         painter.fontMetrics().elidedText(text(), Qt::ElideRight, kWidth));
    }

private:
    QImage m_image;
};

}  // namespace

ViewsStrip::ViewsStrip(Session& session, QWidget* parent)
    : QScrollArea(parent), m_session(session) {
    setWidgetResizable(true);
    setFrameShape(QFrame::NoFrame);
    setVerticalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    setFixedHeight(kHeight + 34);
    connect(&m_session, &Session::sceneChanged, this, [this] {
        m_pictures.clear();
        m_background.stop();
        rebuild();
    });
    connect(&m_session, &Session::projectChanged, this, [this] {
        if (views() != m_shown)
            rebuild();
        else
            mark();
    });
}

std::vector<View> ViewsStrip::views() const {
    std::vector<View> all;
    if (m_session.scene())
        all = m_session.scene()->scene.views;
    const auto& own = m_session.project().views;
    all.insert(all.end(), own.begin(), own.end());
    return all;
}

void ViewsStrip::rebuild() {
    m_shown = views();
    auto* row = new QWidget;
    auto* layout = new QHBoxLayout(row);
    layout->setContentsMargins(12, 2, 12, 2);
    layout->setSpacing(8);
    for (const View& view : m_shown) {
        auto* card = new ViewCard(qstring(view.name), m_pictures[view.name]);
        connect(card, &QAbstractButton::clicked, this, [this, view] {
            m_session.change(tr("View %1").arg(qstring(view.name)), {},
                             [&](Project& p) { p.view = view; });
            mark();
        });
        layout->addWidget(card);
    }
    if (m_session.scene()) {
        auto* add = new QPushButton(theme::icon("plus", theme::kAccent), tr("Keep this view"));
        add->setProperty("role", "link");
        add->setToolTip(tr("Keeps what the scene view shows now as a view of its own."));
        connect(add, &QPushButton::clicked, this, &ViewsStrip::addView);
        layout->addWidget(add);
    }
    layout->addStretch(1);
    if (QWidget* old = takeWidget())
        old->deleteLater();
    setWidget(row);
    mark();
    renderNext();
}

void ViewsStrip::mark() {
    const View now = m_session.view();
    if (widget() == nullptr)
        return;
    for (auto* card : widget()->findChildren<QAbstractButton*>())
        for (const View& view : m_shown)
            if (card->isCheckable() && card->objectName() == qstring(view.name))
                card->setChecked(view == now);
}

void ViewsStrip::addView() {
    int number = 1;
    const auto taken = [&](const std::string& name) {
        return std::any_of(m_shown.begin(), m_shown.end(),
                           [&](const View& v) { return v.name == name; });
    };
    while (taken("view " + std::to_string(number)))
        ++number;
    View view = m_session.view();
    view.name = "view " + std::to_string(number);
    m_session.change(tr("Keep a view"), {}, [&](Project& p) {
        p.views.push_back(view);
        p.view = view;
    });
}

void ViewsStrip::renderNext() {
    const auto scene = m_session.scene();
    if (!scene || m_background.running())
        return;
    for (const View& view : m_shown) {
        if (!m_pictures[view.name].isNull())
            continue;
        m_background.start(
            [this, scene, view](const std::stop_token& stop) -> std::function<void()> {
                RenderRequest request;
                request.view = view;
                request.width = kWidth * 2;
                request.height = kHeight * 2;
                request.passes = {passRequest(PassKind::Beauty)};
                applyPassSetting(request.passes, "beauty.samples=" + std::to_string(kSamples));
                const PassSet set = renderPasses(scene->scene, *scene->accelerator, request,
                                                 {.stop = stop, .progress = {}});
                if (stop.stop_requested())
                    return {};
                const QImage image =
                    toQImage(viewed(set.passes.front().image, ViewTransform::Film, 0.0F));
                return [this, name = view.name, image] {
                    m_pictures[name] = image;
                    rebuild();
                };
            },
            [this](const QString& text) { Q_EMIT m_session.told(text, true); });
        return;
    }
}

}  // namespace noctis
