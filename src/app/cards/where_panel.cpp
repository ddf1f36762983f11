#include "app/cards/where_panel.h"

#include "app/controls/clear_layout.h"
#include "app/controls/line_over.h"
#include "app/controls/settings_form.h"
#include "app/controls/tab_button.h"
#include "app/look/picture_paint.h"
#include "app/look/theme.h"
#include "core/settings/settings_builder.h"
#include "core/steps/registry.h"

#include <QComboBox>
#include <QHBoxLayout>
#include <QLabel>
#include <QMenu>
#include <QPushButton>
#include <QVBoxLayout>

#include <fmt/format.h>

namespace noctis {

namespace {

constexpr int kIndent = 8;

const SettingsBuilder<MaskRefinement>& refinementBuilder() {
    static const auto builder = [] {
        using S = MaskRefinement;
        SettingsBuilder<S> b;
        b.number(
            &S::grow, "grow", "Grow", Unit::Pixel, {-1000.0F, 1000.0F, 40.0F},
            "Grows the covered area by this many pixels of the full picture; below 0 shrinks it.");
        b.number(&S::soften, "soften", "Soften", Unit::Pixel, {0.0F, 1000.0F, 40.0F},
                 "Blurs the edges of the covered area by this many pixels of the full picture.");
        b.number(&S::black, "black", "Black", Unit::Percent, {0.0F, 0.99F, 0.99F},
                 "Values up to here count as nothing.");
        b.number(&S::white, "white", "White", Unit::Percent, {0.01F, 1.0F, 1.0F},
                 "Values from here on count as everything.");
        b.number(&S::gamma, "gamma", "Gamma", Unit::None, {0.1F, 10.0F, 4.0F},
                 "Above 1 strengthens what is half covered, below 1 weakens it.");
        return b;
    }();
    return builder;
}

const SettingsBuilder<Brush>& brushBuilder() {
    static const auto builder = [] {
        using S = Brush;
        SettingsBuilder<S> b;
        b.number(&S::radius, "radius", "Brush", Unit::Pixel, {1.0F, 2000.0F, 150.0F},
                 "How far the brush reaches, in pixels of the full picture.");
        b.number(&S::softness, "softness", "Softness", Unit::Percent, {0.0F, 1.0F, 1.0F},
                 "How much of the brush fades out towards its edge.");
        return b;
    }();
    return builder;
}

/// The label of the button that starts drawing a criterion.
std::pair<QString, QString> drawingText(Drawing drawing) {
    switch (drawing) {
    case Drawing::Shape:
        return {QObject::tr("Draw"), QObject::tr("Drag it out on the picture.")};
    case Drawing::Outline:
        return {QObject::tr("Draw"), QObject::tr("Click its corners on the picture.")};
    case Drawing::Brush:
        return {QObject::tr("Paint"),
                QObject::tr("Paint it on the picture; Alt or the right button erases.")};
    default:
        return {
            QObject::tr("Pick"),
            QObject::tr("Click things in the picture to pick them; a second click drops them.")};
    }
}

QPushButton* smallTab(const QString& text, const QString& help, const QString& name) {
    QPushButton* button = tabButton(text, help, name);
    button->setFont(theme::font(12));
    return button;
}

Settings settingsOf(const MaskRefinement& s) {
    return {{"grow", s.grow},
            {"soften", s.soften},
            {"black", s.black},
            {"white", s.white},
            {"gamma", s.gamma}};
}

/// The criterion that a row shows: the part itself, or the one it inverts.
const Where& shownPart(const Where& part) {
    return part.kind == Where::Kind::Not && !part.parts.empty() ? part.parts.front() : part;
}

}  // namespace

WherePanel::WherePanel(NameSource names, std::function<Surroundings()> around, QWidget* parent)
    : QWidget(parent), m_names(std::move(names)), m_around(std::move(around)) {
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, 2, 0, 2);
    layout->setSpacing(2);
    auto* head = new QHBoxLayout;
    head->setSpacing(2);
    auto* title = new QLabel(tr("Where"));
    title->setFont(theme::font(12, QFont::Medium));
    m_summary = new QLabel(tr("everywhere"));
    m_summary->setProperty("role", "quiet");
    m_summary->setFont(theme::font(12));
    m_summary->setContentsMargins(6, 0, 0, 0);
    m_add = linkButton(tr("Add"), tr("Add a criterion of where it works."));
    m_add->setObjectName("add-criterion");
    head->addWidget(title);
    head->addWidget(m_summary, 1);
    head->addWidget(m_add);
    layout->addLayout(head);
    auto* tools = new QHBoxLayout;
    tools->setSpacing(0);
    m_mode = new QComboBox;
    m_mode->addItems({tr("All"), tr("Any")});
    m_mode->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
    m_mode->setMinimumContentsLength(3);
    m_mode->setFont(theme::font(12));
    m_mode->setAccessibleName(tr("How criteria combine"));
    m_mode->setToolTip(tr("Whether a pixel must meet all criteria or just one of them."));
    m_overlay =
        smallTab(tr("Overlay"), tr("Tint the places where the step works."), "where-overlay");
    m_matte =
        smallTab(tr("Matte"), tr("Show where the step works as white on black."), "where-matte");
    m_share =
        linkButton(tr("More"), tr("Share this Where with other steps, or write it to a file."));
    m_share->setObjectName("where-more");
    tools->addWidget(m_mode, 1);
    tools->addWidget(m_overlay);
    tools->addWidget(m_matte);
    tools->addWidget(m_share);
    layout->addLayout(tools);
    m_column = new QVBoxLayout;
    m_column->setContentsMargins(kIndent, 0, 0, 0);
    m_column->setSpacing(2);
    layout->addLayout(m_column);
    m_refinement = new SettingsForm(refinementBuilder().parameters());
    m_refinement->setContentsMargins(kIndent, 2, 0, 0);
    layout->addWidget(m_refinement);
    connect(m_add, &QPushButton::clicked, this, &WherePanel::offerCriteria);
    connect(m_share, &QPushButton::clicked, this, [this] {
        QMenu menu;
        menu.setToolTipsVisible(true);
        menu.addAction(tr("Share"), this, &WherePanel::offerShare)
            ->setToolTip(tr("Name it, so that other steps can share it."));
        menu.addAction(tr("Export…"), this, &WherePanel::exportAsked)
            ->setToolTip(tr("Write where the step works to a file, as white on black."));
        menu.exec(m_share->mapToGlobal(QPoint(0, m_share->height())));
    });
    connect(m_overlay, &QPushButton::clicked, this,
            [this](bool on) { Q_EMIT shownAsked(on ? WhereShown::Overlay : WhereShown::No); });
    connect(m_matte, &QPushButton::clicked, this,
            [this](bool on) { Q_EMIT shownAsked(on ? WhereShown::Matte : WhereShown::No); });
    connect(m_mode, &QComboBox::activated, this, [this](int index) {
        Where where = m_where;
        where.kind = index == 0 ? Where::Kind::All : Where::Kind::Any;
        Q_EMIT edited(tr("Where"), {}, where);
    });
    connect(m_refinement, &SettingsForm::edited, this,
            [this](const QString& id, const Value& value) {
                Where where = m_where;
                if (where.kind != Where::Kind::All && where.kind != Where::Kind::Any) {
                    where = {};
                    where.parts = {m_where};
                }
                Settings settings = settingsOf(where.refinement);
                settings.set(id.toStdString(), value);
                where.refinement = refinementBuilder().bind(settings);
                where.refinement.white =
                    std::max(where.refinement.white, where.refinement.black + 0.01F);
                Q_EMIT edited(tr("Edge of its Where"), QStringLiteral("where.") + id, where);
            });
    connect(m_refinement, &SettingsForm::rested, this, &WherePanel::rested);
    refresh();
}

std::vector<Where> WherePanel::parts() const {
    if (m_where.kind == Where::Kind::All || m_where.kind == Where::Kind::Any)
        return m_where.parts;
    return {m_where};
}

std::string WherePanel::kindOf(const Where& part) {
    const Where& shown = shownPart(part);
    return std::to_string(static_cast<int>(shown.kind)) + shown.name;
}

void WherePanel::setWhere(const Where& where, const NamedWheres& named) {
    m_where = where;
    m_named = named;
    const std::vector<Where> all = parts();
    bool same = all.size() == m_rows.size();
    for (std::size_t i = 0; same && i < all.size(); ++i)
        same = m_rows[i].kind == kindOf(all[i]);
    if (!same)
        rebuild();
    refresh();
}

void WherePanel::rebuild() {
    clearLayout(*m_column);
    m_rows.clear();
    const std::vector<Where> all = parts();
    for (std::size_t i = 0; i < all.size(); ++i)
        addRow(i, all[i]);
    setKeys(m_keys);
}

void WherePanel::addRow(std::size_t index, const Where& part) {
    const Where& shown = shownPart(part);
    Row row{kindOf(part), nullptr, nullptr, nullptr};
    auto* box = new QWidget;
    auto* layout = new QVBoxLayout(box);
    layout->setContentsMargins(0, 4, 0, 0);
    layout->setSpacing(2);
    auto* head = new QHBoxLayout;
    head->setSpacing(2);
    const bool isCriterion = shown.kind == Where::Kind::Criterion;
    auto* title = new QLabel(isCriterion ? qstring(stepCatalogue().criterion(shown.name).label)
                                         : qstring(summaryOf(shown, stepCatalogue())));
    title->setFont(theme::font(12, QFont::Medium));
    title->setToolTip(isCriterion ? qstring(stepCatalogue().criterion(shown.name).help)
                                  : qstring(shown.problem));
    row.turned = smallTab(tr("Not"), tr("Invert it: everywhere but there."), {});
    auto* remove = linkButton({}, tr("Remove this criterion."));
    remove->setIcon(theme::icon(QStringLiteral("x")));
    remove->setAccessibleName(tr("Remove %1").arg(title->text()));
    head->addWidget(title, 1);
    head->addWidget(row.turned);
    head->addWidget(remove);
    layout->addLayout(head);
    if (isCriterion)
        addDrawing(row, *layout, *head, index, stepCatalogue().criterion(shown.name));
    connect(row.turned, &QPushButton::clicked, this, [this, index](bool on) {
        std::vector<Where> all = parts();
        Where inner = shownPart(all[index]);
        if (on) {
            all[index] = {};
            all[index].kind = Where::Kind::Not;
            all[index].parts = {std::move(inner)};
        } else {
            all[index] = std::move(inner);
        }
        emitParts(tr("Invert its Where"), {}, std::move(all));
    });
    connect(remove, &QPushButton::clicked, this, [this, index] {
        std::vector<Where> all = parts();
        all.erase(all.begin() + static_cast<std::ptrdiff_t>(index));
        emitParts(tr("Where"), {}, std::move(all));
    });
    if (isCriterion) {
        row.form = new SettingsForm(stepCatalogue().criterion(shown.name).parameters, m_names);
        layout->addWidget(row.form);
        connect(row.form, &SettingsForm::edited, this,
                [this, index](const QString& id, const Value& value) {
                    std::vector<Where> all = parts();
                    Where& edited =
                        all[index].kind == Where::Kind::Not ? all[index].parts.front() : all[index];
                    edited.settings.set(id.toStdString(), value);
                    emitParts(tr("Where"), QStringLiteral("where.%1.%2").arg(index).arg(id),
                              std::move(all));
                });
        connect(row.form, &SettingsForm::rested, this, &WherePanel::rested);
        if (m_hasKeys)
            row.form->offerKeys();
        connect(row.form, &SettingsForm::keyAsked, this, [this, index](const QString& setting) {
            Q_EMIT keyAsked(qstring(trackPathTo(index)), setting);
        });
        connect(row.form, &SettingsForm::curveAsked, this, [this, index](const QString& setting) {
            Q_EMIT curveAsked(qstring(trackPathTo(index)), setting);
        });
    }
    m_column->addWidget(box);
    m_rows.push_back(row);
}

std::string WherePanel::pathTo(std::size_t index) const {
    const bool inList = m_where.kind == Where::Kind::All || m_where.kind == Where::Kind::Any;
    const Where& part = inList ? m_where.parts[index] : m_where;
    std::string path = inList ? fmt::format("/{}", index) : std::string();
    if (part.kind == Where::Kind::Not)
        path.append("/0");
    return path;
}

std::string WherePanel::trackPathTo(std::size_t index) const {
    const std::string path = pathTo(index);
    return path.empty() ? "/" : path;
}

void WherePanel::offerKeys() { m_hasKeys = true; }

void WherePanel::setKeys(const KeyStates& states) {
    m_keys = states;
    for (std::size_t i = 0; i < m_rows.size(); ++i)
        if (m_rows[i].form != nullptr) {
            const auto own = states.find(trackPathTo(i));
            m_rows[i].form->setKeys(own == states.end() ? std::map<std::string, KeyState>()
                                                        : own->second);
        }
}

void WherePanel::addDrawing(Row& row, QVBoxLayout& layout, QHBoxLayout& head, std::size_t index,
                            const CriterionType& type) {
    const Drawing drawing = drawingOf(type);
    if (drawing == Drawing::None)
        return;
    const auto [text, help] = drawingText(drawing);
    row.drawn = smallTab(text, help, QStringLiteral("draw-%1").arg(index));
    head.insertWidget(1, row.drawn);
    connect(row.drawn, &QPushButton::clicked, this,
            [this, index](bool on) { Q_EMIT inHandAsked(qstring(pathTo(index)), on); });
    if (drawing != Drawing::Brush)
        return;
    auto* brush = new SettingsForm(brushBuilder().parameters());
    brush->setSettings({{"radius", m_brush.radius}, {"softness", m_brush.softness}});
    layout.addWidget(brush);
    connect(brush, &SettingsForm::edited, this,
            [this, brush](const QString& id, const Value& value) {
                Settings settings{{"radius", m_brush.radius}, {"softness", m_brush.softness}};
                settings.set(id.toStdString(), value);
                m_brush = brushBuilder().bind(settings);
                brush->setSettings(settings);
                Q_EMIT brushChanged(m_brush);
            });
}

void WherePanel::setInHand(const std::optional<std::string>& path) {
    m_inHand = path;
    for (std::size_t i = 0; i < m_rows.size(); ++i)
        if (m_rows[i].drawn != nullptr)
            m_rows[i].drawn->setChecked(path && *path == pathTo(i));
}

void WherePanel::refresh() {
    const std::vector<Where> all = parts();
    const bool any = !all.empty();
    m_summary->setText(any ? QString() : tr("everywhere"));
    m_mode->setVisible(all.size() > 1);
    m_mode->setCurrentIndex(m_where.kind == Where::Kind::Any ? 1 : 0);
    m_refinement->setVisible(any);
    for (QWidget* tool : {m_overlay, m_matte, m_share})
        tool->setVisible(any && m_hasViews);
    m_refinement->setSettings(settingsOf(m_where.refinement));
    for (std::size_t i = 0; i < m_rows.size() && i < all.size(); ++i) {
        m_rows[i].turned->setChecked(all[i].kind == Where::Kind::Not);
        if (m_rows[i].form != nullptr)
            m_rows[i].form->setSettings(shownPart(all[i]).settings);
    }
    setInHand(m_inHand);
}

void WherePanel::leaveOutViews() {
    m_hasViews = false;
    refresh();
}

void WherePanel::setShown(WhereShown shown) {
    m_overlay->setChecked(shown == WhereShown::Overlay);
    m_matte->setChecked(shown == WhereShown::Matte);
}

void WherePanel::offerCriteria() {
    QMenu menu;
    menu.setToolTipsVisible(true);
    const auto add = [this](const Where& part) {
        std::vector<Where> all = parts();
        all.push_back(part);
        const QString path = QStringLiteral("/%1").arg(all.size() - 1);
        emitParts(tr("Where"), {}, std::move(all));
        // A new shape is drawn next.
        if (part.kind == Where::Kind::Criterion &&
            drawingOf(stepCatalogue().criterion(part.name)) != Drawing::None)
            Q_EMIT inHandAsked(path, true);
    };
    std::optional<CriterionFamily> family;
    for (const CriterionType& type : stepCatalogue().criteria()) {
        if (family && *family != type.family)
            menu.addSeparator();
        family = type.family;
        QAction* action = menu.addAction(qstring(type.label), this, [this, add, id = type.id] {
            add(m_around ? stepCatalogue().newCriterion(id, m_around())
                         : stepCatalogue().newCriterion(id));
        });
        action->setToolTip(qstring(type.help));
    }
    if (!m_named.empty())
        menu.addSeparator();
    for (const auto& [name, where] : m_named)
        menu.addAction(tr("Same as %1").arg(qstring(name)), this, [add, name = name] {
            Where same;
            same.kind = Where::Kind::SameAs;
            same.name = name;
            add(same);
        });
    menu.exec(m_add->mapToGlobal(QPoint(0, m_add->height())));
}

void WherePanel::offerShare() {
    auto* line = new LineOver(this, m_share->geometry().adjusted(-140, 0, 0, 0), {});
    line->setPlaceholderText(tr("Name of the Where"));
    connect(line, &LineOver::taken, this, [this](const QString& name) {
        if (!name.trimmed().isEmpty())
            Q_EMIT shareAsked(name.trimmed());
    });
}

void WherePanel::emitParts(const QString& what, const QString& gesture, std::vector<Where> all) {
    Where where = m_where;
    if (where.kind != Where::Kind::All && where.kind != Where::Kind::Any)
        where = {};
    if (all.empty())
        where = {};
    where.parts = std::move(all);
    Q_EMIT edited(what, gesture, where);
}

}  // namespace noctis
