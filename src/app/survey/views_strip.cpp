#include "app/survey/views_strip.h"

#include "app/controls/line_over.h"
#include "app/look/picture_paint.h"
#include "app/look/theme.h"
#include "core/tracer/render.h"

#include <QAbstractButton>
#include <QApplication>
#include <QFrame>
#include <QGridLayout>
#include <QMenu>
#include <QMouseEvent>
#include <QPainter>
#include <QPushButton>

#include <algorithm>
#include <functional>
#include <utility>

#include <fmt/format.h>

namespace noctis {

namespace {

constexpr int kWidth = 86;
constexpr int kHeight = 48;
constexpr int kCardHeight = kHeight + 24;
constexpr int kAcross = 3;
constexpr int kSamples = 6;
constexpr int kRestMs = 250;

/// The state of all passes of a view together.
enum class ViewState { Missing, Stale, Current };

ViewState stateOf(const Session& session, const View& view) {
    const PassSet* passes = session.passesOf(view);
    if (passes == nullptr)
        return ViewState::Missing;
    const std::vector<PassState> states = passStates(*passes, session.wantedFrame(view));
    const auto all = [&](PassState::Kind kind) {
        return std::all_of(states.begin(), states.end(),
                           [kind](const PassState& state) { return state.kind == kind; });
    };
    if (all(PassState::Kind::Missing))
        return ViewState::Missing;
    return all(PassState::Kind::Current) ? ViewState::Current : ViewState::Stale;
}

class ViewCard : public QAbstractButton {
public:
    /// Called with the pointer's place on the screen while it is dragged, and when it is released.
    std::function<void(const QPoint&)> dragged;
    std::function<void(const QPoint&)> dropped;

    ViewCard(const QString& name, const QImage& image) : m_image(image) {
        setText(name);
        setAccessibleName(QObject::tr("View %1").arg(name));
        setToolTip(QObject::tr("Looks from %1.").arg(name));
        setObjectName(name);
        setCheckable(true);
        setFocusPolicy(Qt::StrongFocus);
        setFixedSize(kWidth + 4, kCardHeight);
    }
    void setState(ViewState state) {
        m_state = state;
        const QString name = text();
        QString help =
            state == ViewState::Current
                ? QObject::tr("Looks from %1. Its passes are current.").arg(name)
            : state == ViewState::Stale
                ? QObject::tr("Looks from %1. Some of its passes need rendering.").arg(name)
                : QObject::tr("Looks from %1.").arg(name);
        if (dragged)
            help += QObject::tr(" Drag it to its place among your views.");
        setToolTip(help);
        update();
    }

protected:
    void mousePressEvent(QMouseEvent* event) override {
        m_pressed = event->position();
        QAbstractButton::mousePressEvent(event);
    }
    void mouseMoveEvent(QMouseEvent* event) override {
        const bool far =
            (event->position() - m_pressed).manhattanLength() > QApplication::startDragDistance();
        m_dragged = m_dragged || (dragged && isDown() && far);
        if (m_dragged)
            dragged(event->globalPosition().toPoint());
    }
    void mouseReleaseEvent(QMouseEvent* event) override {
        if (!std::exchange(m_dragged, false))
            return QAbstractButton::mouseReleaseEvent(event);
        setDown(false);
        dropped(event->globalPosition().toPoint());
    }
    void paintEvent(QPaintEvent*) override {
        QPainter painter(this);
        painter.setRenderHint(QPainter::SmoothPixmapTransform);
        const QRect place(2, 2, kWidth, kHeight);
        painter.fillRect(place, theme::kRaised);
        if (!m_image.isNull())
            painter.drawImage(place, m_image);
        if (isChecked()) {
            painter.setPen(QPen(theme::kText, 2));
            painter.drawRect(place.adjusted(-1, -1, 0, 0));
        }
        painter.setFont(theme::font(12));
        painter.setPen(isChecked() ? theme::kText : theme::kQuiet);
        const int room = m_state == ViewState::Missing ? kWidth : kWidth - 10;
        painter.drawText(QRect(2, kHeight + 4, room, 18), Qt::AlignVCenter,
                         painter.fontMetrics().elidedText(text(), Qt::ElideMiddle, room));
        if (m_state == ViewState::Missing)
            return;
        painter.setRenderHint(QPainter::Antialiasing);
        painter.setPen(Qt::NoPen);
        painter.setBrush(m_state == ViewState::Current ? theme::kAccent : theme::kWarning);
        painter.drawEllipse(QPointF(kWidth - 2.0, kHeight + 13.0), 2.5, 2.5);
    }

private:
    QImage m_image;
    ViewState m_state = ViewState::Missing;
    QPointF m_pressed;
    bool m_dragged = false;
};

}  // namespace

ViewsStrip::ViewsStrip(Session& session, QWidget* parent)
    : QScrollArea(parent), m_session(session) {
    setFocusPolicy(Qt::NoFocus);  // its prints have it
    setWidgetResizable(true);
    setFrameShape(QFrame::NoFrame);
    setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    m_settles.setSingleShot(true);
    m_settles.setInterval(kRestMs);
    connect(&m_settles, &QTimer::timeout, this, [this] {
        markStates();
        renderNext();
    });
    connect(&m_session, &Session::passesChanged, &m_settles, qOverload<>(&QTimer::start));
    connect(&m_session, &Session::projectChanged, &m_settles, qOverload<>(&QTimer::start));
    connect(&m_session, &Session::sceneChanged, this, [this] {
        m_pictures.clear();
        m_background.stop();
        m_settles.start();
        rebuild();
    });
    connect(&m_session, &Session::projectChanged, this, [this] {
        m_background.stop();  // the cores are needed for the drag
        if (m_session.views() != m_shown)
            rebuild();
        else
            mark();
    });
}

void ViewsStrip::markStates() {
    if (widget() == nullptr)
        return;
    for (const View& view : m_shown)
        for (QObject* child : widget()->children())
            if (auto* card = dynamic_cast<ViewCard*>(child);
                card != nullptr && card->objectName() == qstring(view.name))
                card->setState(stateOf(m_session, view));
}

void ViewsStrip::rebuild() {
    m_shown = m_session.views();
    auto* row = new QWidget;
    auto* layout = new QGridLayout(row);
    layout->setContentsMargins(10, 2, 8, 2);
    layout->setHorizontalSpacing(5);
    layout->setVerticalSpacing(2);
    int place = 0;
    for (const View& view : m_shown) {
        auto* card = new ViewCard(qstring(view.name), m_pictures[view.name].image);
        connect(card, &QAbstractButton::clicked, this, [this, view] {
            m_session.change(tr("View %1").arg(qstring(view.name)), {},
                             [&](Project& p) { p.view = view; });
            mark();
        });
        card->setContextMenuPolicy(Qt::CustomContextMenu);
        connect(card, &QWidget::customContextMenuRequested, this,
                [this, view, card](const QPoint& at) { showMenu(view, card->mapToGlobal(at)); });
        if (const auto& own = m_session.project().views; std::any_of(
                own.begin(), own.end(), [&](const View& v) { return v.name == view.name; })) {
            card->dragged = [this](const QPoint& at) { markDrop(at); };
            card->dropped = [this, view](const QPoint& at) { drop(view.name, at); };
        }
        layout->addWidget(card, place / kAcross, place % kAcross);
        ++place;
    }
    layout->setColumnStretch(kAcross, 1);
    layout->setRowStretch(place / kAcross + 1, 1);
    // A third row begins to show that there are more.
    const int rows = (place + kAcross - 1) / kAcross;
    setFixedHeight(rows <= 2 ? std::max(rows, 1) * (kCardHeight + 2) + 4 : 5 * kCardHeight / 2);
    m_dropMark = new QFrame(row);
    m_dropMark->setStyleSheet(QStringLiteral("background: %1").arg(theme::kAccent.name()));
    m_dropMark->hide();
    if (QWidget* old = takeWidget())
        old->deleteLater();
    setWidget(row);
    mark();
    markStates();
}

std::size_t ViewsStrip::placeAmongOwn(const QPoint& global) const {
    const QPoint at = widget()->mapFromGlobal(global);
    std::size_t before = 0;
    for (const View& view : m_session.project().views)
        if (const auto* card = widget()->findChild<QAbstractButton*>(qstring(view.name))) {
            const QRect place = card->geometry();
            const bool above = place.bottom() < at.y();
            const bool sameRow = place.top() <= at.y() && at.y() <= place.bottom();
            before += above || (sameRow && place.center().x() < at.x()) ? 1 : 0;
        }
    return before;
}

void ViewsStrip::markDrop(const QPoint& global) {
    const auto& own = m_session.project().views;
    const std::size_t place = placeAmongOwn(global);
    const bool last = place == own.size();
    const auto* beside =
        widget()->findChild<QAbstractButton*>(qstring(own[last ? place - 1 : place].name));
    if (beside == nullptr)
        return;
    const int x = last ? beside->geometry().right() + 2 : beside->geometry().left() - 3;
    m_dropMark->setGeometry(x, beside->geometry().top() + 2, 2, kHeight);
    m_dropMark->show();
    m_dropMark->raise();
    ensureVisible(0, widget()->mapFromGlobal(global).y(), 0, kHeight / 2);
}

void ViewsStrip::drop(const std::string& name, const QPoint& global) {
    m_dropMark->hide();
    const std::size_t place = placeAmongOwn(global);
    m_session.change(tr("Move a view"), {}, [&](Project& p) {
        const auto from = std::find_if(p.views.begin(), p.views.end(),
                                       [&](const View& v) { return v.name == name; });
        if (from == p.views.end())
            return;
        const auto to = p.views.begin() + static_cast<std::ptrdiff_t>(place);
        if (from < to)
            std::rotate(from, from + 1, to);
        else
            std::rotate(to, from, from + 1);
    });
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

void ViewsStrip::showMenu(const View& view, const QPoint& at) {
    const auto& own = m_session.project().views;
    const auto found =
        std::find_if(own.begin(), own.end(), [&](const View& v) { return v.name == view.name; });
    QMenu menu;
    if (found == own.end()) {
        menu.addAction(tr("This view is the scene's own"))->setEnabled(false);
        menu.exec(at);
        return;
    }
    const auto index = found - own.begin();
    const auto move = [this, index](std::ptrdiff_t way) {
        m_session.change(tr("Move a view"), {}, [&](Project& p) {
            std::swap(p.views[static_cast<std::size_t>(index)],
                      p.views[static_cast<std::size_t>(index + way)]);
        });
    };
    menu.addAction(tr("Rename…"), this, [this, view] { rename(view); });
    menu.addAction(tr("Set to where the camera is now"), this, [this, index] {
        m_session.change(tr("Set a view"), {}, [&](Project& p) {
            View& set = p.views[static_cast<std::size_t>(index)];
            set.camera = m_session.view().camera;
            p.view = set;
        });
    });
    menu.addAction(tr("Move left"), this, [move] { move(-1); })->setEnabled(index > 0);
    menu.addAction(tr("Move right"), this, [move] { move(1); })
        ->setEnabled(index + 1 < static_cast<std::ptrdiff_t>(own.size()));
    menu.addAction(tr("Remove"), this, [this, index] {
        m_session.change(tr("Remove a view"), {},
                         [&](Project& p) { p.views.erase(p.views.begin() + index); });
    });
    menu.exec(at);
}

void ViewsStrip::rename(const View& view) {
    const auto* card = widget()->findChild<QAbstractButton*>(qstring(view.name));
    if (card == nullptr)
        return;
    auto* line =
        new LineOver(this, QRect(card->mapTo(this, QPoint(0, kHeight + 2)), QSize(kWidth + 40, 24)),
                     qstring(view.name));
    line->setAccessibleName(tr("Name of the view"));
    connect(line, &LineOver::taken, this, [this, view](const QString& text) {
        const std::string name = text.toStdString();
        const bool taken = std::any_of(m_shown.begin(), m_shown.end(),
                                       [&](const View& v) { return v.name == name; });
        if (name.empty() || taken)
            return;
        m_session.change(tr("Rename a view"), {}, [&](Project& p) {
            for (View& each : p.views)
                if (each.name == view.name)
                    each.name = name;
            if (p.view && p.view->name == view.name)
                p.view->name = name;
        });
    });
}

void ViewsStrip::lookFromAbove() {
    const auto scene = m_session.scene();
    if (!scene)
        return;
    const Project& project = m_session.project();
    const std::vector<View>& given = scene->scene.views;
    std::string name = m_object.empty() ? "from above" : m_object + " from above";
    if (std::any_of(given.begin(), given.end(), [&](const View& v) { return v.name == name; }))
        name += " 2";
    const View view = viewFromAbove(
        name,
        boundsOf(scene->scene, m_object.empty() ? thingsOf(scene->scene)
                                                : instancesNamed(scene->scene, m_object)),
        project.aspect());
    m_session.change(tr("From above"), {}, [&](Project& p) {
        std::erase_if(p.views, [&](const View& v) { return v.name == name; });
        p.views.push_back(view);
        p.view = view;
    });
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
        if (const SmallPicture& had = m_pictures[view.name]; !had.image.isNull() && had.of == view)
            continue;
        m_background.start(
            [this, scene, view](const std::stop_token& stop) -> std::function<void()> {
                RenderRequest request;
                request.view = view;
                request.width = kWidth * 2;
                request.height = kHeight * 2;
                request.passes = {passRequest(PassKind::Beauty)};
                applyPassSetting(request.passes, fmt::format("beauty.samples={}", kSamples));
                const PassSet set = renderPasses(scene->scene, *scene->accelerator, request,
                                                 {.stop = stop, .progress = {}});
                if (stop.stop_requested())
                    return {};
                const QImage image =
                    toQImage(viewed(set.passes.front().image, ViewTransform::SoftShoulder, 0.0F));
                return [this, view, image] {
                    m_pictures[view.name] = {view, image};
                    rebuild();
                    renderNext();
                };
            },
            [this](const QString& text) { Q_EMIT m_session.notified(text, true); });
        return;
    }
}

}  // namespace noctis
