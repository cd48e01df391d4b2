#include "cli/reform_motion.hpp"

#include <algorithm>
#include <array>

#include <fmt/format.h>

#include "core/explain/motion_form.hpp"
#include "core/feel/motion_at.hpp"
#include "core/text.hpp"
#include "io/toml_edit.hpp"
#include "io/toml_reader.hpp"
#include "io/variant_overrides.hpp"

namespace stasis::cli {
namespace {

/// The numbers of a form that a key may give: which one it is, 0 or 1; nothing of other keys.
std::optional<std::size_t> place_of(std::string_view key) noexcept {
  if (std::find(first_form_keys.begin(), first_form_keys.end(), key) != first_form_keys.end()) return 0;
  if (std::find(second_form_keys.begin(), second_form_keys.end(), key) != second_form_keys.end()) return 1;
  return std::nullopt;
}

/// Those that a key alone begins.
constexpr std::array<std::string_view, 6> known_forms{"half_life", "time_constant", "rate",
                                                      "frequency", "stiffness",     "settling_time"};

/// A motion that is being given another form, in the text of its feel.
class Reforming {
public:
  Reforming(const FeelText& source, const WantedForm& wanted, Output& err)
      : source_(source), wanted_(wanted), err_(err), text_(source.text) {}

  tl::expected<std::string, Exit> run(std::string& shown) {
    const auto motion = motion_of("");
    if (!motion) return tl::unexpected(motion.error());
    const auto form = form_named(wanted_.form, *motion);
    if (!form)
      return refuse(fmt::format("\"{}\" is not a form.{} Known: {}", printable(wanted_.form, 40),
                                did_you_mean(wanted_.form, known_forms), listed(known_forms)));
    const auto document = io::read_toml(text_, 0);
    if (!document) return explain(document.error());
    // A number that a player may change would become one that stands.
    for (const std::string_view key : form_keys())
      if (const Node* there = node_at(*document, fmt::format("{}.{}", wanted_.path, key));
          there != nullptr && there->table() != nullptr)
        return refuse(fmt::format("its {} refers to a setting, which a number in its place would cut off", key));
    const auto numbers = numbers_in(*form, *motion);
    if (!numbers) return refuse(std::string(numbers.error()));
    if (const auto done = write_base(*form, *motion, *numbers); !done) return tl::unexpected(done.error());
    shown += said(wanted_.path, *form, *numbers);
    const auto overrides = io::overrides_of(*document, wanted_.path);
    for (std::size_t i = 0; i < overrides.size(); ++i) {
      const std::string& variant = overrides[i].variant;
      if (i > 0 && overrides[i - 1].variant == variant) continue;
      std::vector<io::Override> own;
      for (const io::Override& one : overrides)
        if (one.variant == variant) own.push_back(one);
      if (const auto done = write_variant(*form, *numbers, own, shown); !done) return tl::unexpected(done.error());
    }
    return std::move(text_);
  }

private:
  static std::vector<std::string_view> form_keys() {
    std::vector<std::string_view> keys(first_form_keys.begin(), first_form_keys.end());
    keys.insert(keys.end(), second_form_keys.begin(), second_form_keys.end());
    return keys;
  }

  static std::string said(std::string_view path, const MotionForm& form, const FormNumbers& numbers) {
    return fmt::format("{}: {} {}{}{}\n", printable(path, 120), form.first, shortest(numbers.first),
                       form.is_spring ? fmt::format(", {} {}", form.second, shortest(numbers.second)) : "",
                       numbers.is_same_motion ? ", the same motion" : ", which settles in the same time");
  }

  tl::unexpected<Exit> refuse(const std::string& why) const {
    print_error(fmt::format("--form {}: {}.", printable(wanted_.path, 120), why), err_);
    return tl::unexpected(Exit::bad_input);
  }
  tl::unexpected<Exit> explain(const Problems& problems) const {
    print_problems(problems, {{source_.file, text_}}, err_);
    return tl::unexpected(Exit::bad_input);
  }

  /// The motion as the feel, or a variant of it, has it before anything is changed.
  tl::expected<Motion, Exit> motion_of(std::string_view variant) const {
    const auto feel = feel_of_text(source_, err_, variant);
    if (!feel) return tl::unexpected(feel.error());
    if (const NamedMotion* found = motion_at(*feel, wanted_.path)) return found->motion;
    std::vector<std::string> paths;
    for (const NamedMotion& one : feel->motions)
      if (!std::holds_alternative<Cut>(one.motion))
        paths.push_back((one.written_in_place ? "channel." : "motion.") + one.name);
    const std::vector<std::string_view> known(paths.begin(), paths.end());
    return refuse(fmt::format("the feel has no motion there.{}{}", did_you_mean(wanted_.path, known),
                              known.empty() ? "" : " Known: " + listed(known)));
  }

  tl::expected<void, Exit> change(std::string_view table, const std::vector<io::KeyChange>& changes) {
    auto now = io::change_keys(text_, table, changes);
    if (!now) return explain(now.error());
    text_ = std::move(*now);
    return {};
  }
  tl::expected<void, Exit> add(const std::string& path, double value) {
    auto now = io::edit_value(text_, path, shortest(value));
    if (!now) return explain(now.error());
    text_ = std::move(now->text);
    return {};
  }

  tl::expected<void, Exit> write_base(const MotionForm& form, const Motion& motion, const FormNumbers& numbers) {
    std::vector<io::KeyChange> changes{{"kind", "kind", form.is_spring ? "\"spring\"" : "\"glide\""}};
    for (const std::string_view key : first_form_keys)
      changes.push_back({std::string(key), std::string(form.first), shortest(numbers.first)});
    for (const std::string_view key : second_form_keys)
      changes.push_back({std::string(key), std::string(form.second), shortest(numbers.second)});
    for (const std::string_view key : lone_form_keys) changes.push_back({std::string(key), "", ""});
    auto done = change(wanted_.path, changes);
    if (done && form.is_spring && !std::holds_alternative<Spring>(motion)) // its second key is new
      done = add(wanted_.path + "." + std::string(form.second), numbers.second);
    return done;
  }

  /// What one variant says of the motion, under the form's names: each number that it had on its own line, and a line
  /// more where the form's other number is no longer that of the feel.
  tl::expected<void, Exit> write_variant(const MotionForm& form, const FormNumbers& base,
                                         const std::vector<io::Override>& own, std::string& shown) {
    const std::string& variant = own.front().variant;
    for (const io::Override& one : own)
      if (one.last() == "kind") return {}; // a motion of its own, whole
    for (const io::Override& one : own)
      if (one.is_table)
        return refuse(
            fmt::format("in the variant {} its {} refers to a setting, which a number in its place would cut off",
                        printable(variant, 60), one.last()));
    const auto motion = motion_of(variant);
    if (!motion) return tl::unexpected(motion.error());
    const auto numbers = numbers_in(form, *motion);
    if (!numbers) return refuse(fmt::format("of its variant {}, {}", printable(variant, 60), numbers.error()));
    const std::array<std::string_view, 2> keys{form.first, form.second};
    const std::array<double, 2> now{numbers->first, numbers->second}, before{base.first, base.second};
    std::array<bool, 2> is_written{};
    for (const io::Override& one : own) {
      const auto place = place_of(one.last());
      const bool stays = place && !keys[*place].empty() && !is_written[*place];
      if (!place && std::find(lone_form_keys.begin(), lone_form_keys.end(), one.last()) == lone_form_keys.end())
        continue; // a key of every form
      const std::string key = stays ? one.renamed(keys[*place]) : "";
      if (const auto done = change(one.table, {{one.key, key, stays ? shortest(now[*place]) : ""}}); !done) return done;
      if (stays) is_written[*place] = true;
    }
    for (std::size_t k = 0; k < keys.size(); ++k)
      if (!keys[k].empty() && !is_written[k] && now[k] != before[k])
        if (const auto done = add(fmt::format("{}.{}", own.front().table, own.front().renamed(keys[k])), now[k]); !done)
          return done;
    shown += said(fmt::format("variant.{}: {}", variant, wanted_.path), form, *numbers);
    return {};
  }

  const FeelText& source_;
  const WantedForm& wanted_;
  Output& err_;
  std::string text_;
};

} // namespace

tl::expected<std::string, Exit> reformed(const FeelText& source, const WantedForm& wanted, std::string& shown,
                                         Output& err) {
  return Reforming(source, wanted, err).run(shown);
}

} // namespace stasis::cli
