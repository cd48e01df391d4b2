// A feel under way with all that belongs to it: its text, its files, what hands have done. What stasis.h hands out.
#pragma once

#include <algorithm>
#include <array>
#include <memory>
#include <optional>
#include <span>
#include <string>
#include <string_view>
#include <vector>

#include "core/feel/document.hpp"
#include "core/feel/feel.hpp"
#include "core/measure/take_measures.hpp"
#include "core/take/session.hpp"
#include "io/feel_document.hpp"

namespace stasis {
class SameNames;
}

namespace stasis::embed {

/// What is wrong, with the texts to which the places refer.
struct Faults {
  Problems problems;
  std::vector<Source> sources;
};
template<class T> using Opened = tl::expected<T, Faults>;

/// Frames or ticks a second as they are given, Hz, within what a feel may say itself; none of 0, below it or of no
/// number: 0.
inline double rate_given(double rate) noexcept { return rate > 0.0 ? std::clamp(rate, 0.01, 1e5) : 0.0; }

struct FeelText {
  std::string name; ///< for messages
  std::string text;
  std::string variant; ///< empty: the feel itself
  std::string take;    ///< whose surroundings; empty: the first one
  double fps = 0.0;    ///< 0: frames as long as they are told
  double tick = 0.0;   ///< Hz, > 0: subjects advance at this rate, whatever the take says
};

/// A feel that has been read, and the take around it.
struct ReadFeel {
  std::vector<std::string> variants; ///< by name
  Feel feel;
  Take around;
};

/// \param folder where the files lie that the feel names.
Opened<std::shared_ptr<ReadFeel>> read_feel_text(const FeelText& text, const io::FeelFolder& folder);

/// The way of a subject that was led, row by row.
struct LedWay {
  std::vector<double> time; ///< s, of the track
  std::array<std::vector<double>, most_components> place;
};

class PlayedFeel {
public:
  /// \param folder where the files lie that the feel names.
  static Opened<std::unique_ptr<PlayedFeel>> open(FeelText text, std::shared_ptr<const io::FeelFolder> folder);

  const Feel& feel() const noexcept { return read_->feel; }
  const Take& around() const noexcept { return read_->around; }
  const std::vector<std::string>& variants() const noexcept { return read_->variants; }
  /// The text, read again: variant and settings not yet put in. A session does not keep it. A fault where a file that
  /// it names has gone since.
  Opened<Node> document() const;
  const std::string& text() const noexcept { return text_.text; }
  const FeelText& source() const noexcept { return text_; }
  const Session& session() const noexcept { return *session_; }

  static constexpr double longest_frame = 60.0; ///< s

  /// An input, at the next frame.
  void give(Cue cue);
  /// From this frame on; nothing changes where frames are equally long. \param speed, over 0 or more
  void change_game_speed(double speed, double over);
  /// Where a subject is at the next frame.
  void place(std::size_t track, const Components& place);
  void advance(double dt);
  std::vector<std::string> take_notes() { return session_->take_notes(); }

  /// What is kept of the hands.
  struct Kept {
    std::vector<Cue> cues;
    std::size_t new_cues = 0;  ///< of these, not yet acted
    std::vector<double> times; ///< of the frames, s on the clock
    std::vector<GameSpeed> speeds;
    std::vector<LedWay> led_ways; ///< by track
  };

  struct Moment {
    const PlayedFeel* owner = nullptr;
    std::size_t changes = 0;
    std::shared_ptr<const Session::Saved> session;
    std::vector<std::optional<LedPlaces>> led;
    std::vector<std::optional<Components>> next_places;
    /// What is kept of the hands until then: another way on may have been recorded since.
    Kept kept;
  };
  Moment save() const;
  /// \returns false where the moment is of another feel, or of this one before it was changed.
  bool restore(const Moment& moment);

  /// Goes on with another text, or another variant of this one; where that is broken everything stays.
  Opened<void> change(std::string text);
  Opened<void> change_value(std::string_view path, std::string_view value);
  /// Values at paths, all or none.
  struct Written {
    std::string path, value;
  };
  Opened<void> change_values(std::span<const Written> values);
  /// A word of feel; see feel_words().
  Opened<void> change_by_word(const std::string& name, const std::string& word, double amount);
  Opened<void> change_variant(std::string variant);

  void record(bool keep);
  bool is_recorded() const noexcept { return keeps_; }
  /// Inputs, each at the time of the frame at which it acted, and the times of all frames so far.
  const std::vector<Cue>& cues() const noexcept { return kept_.cues; }
  const std::vector<double>& times() const noexcept { return kept_.times; }
  /// By track; empty where the feel leads it.
  const std::vector<LedWay>& led_ways() const noexcept { return kept_.led_ways; }
  /// The last move of each channel since the feel was opened, changed or put back; nothing is known where no hands are
  /// kept.
  std::vector<Move> last_moves() const { return sink_ ? sink_->last_moves() : std::vector<Move>(); }
  /// What the feel as it now is makes of them.
  TakeMeasures measures() const;
  /// The take of these inputs, and the clock of these frames.
  Take recorded_take() const;
  Clock recorded_clock() const;

private:
  PlayedFeel(FeelText text, std::shared_ptr<const io::FeelFolder> folder)
      : text_(std::move(text)), folder_(std::move(folder)) {}
  Opened<void> change_to(FeelText text);
  void keep_cues(const SameNames& same);
  double next_time(double dt) const noexcept;
  void measure_anew();
  void lead(double time);
  void lead_from(std::size_t track, double time, const Components& place);
  void lead_to(std::size_t track, double time, const Components& place);

  FeelText text_;
  std::shared_ptr<const io::FeelFolder> folder_;
  std::shared_ptr<ReadFeel> read_; ///< at one place as long as the session refers to it
  std::optional<Session> session_;
  std::size_t changes_ = 0;
  std::vector<std::shared_ptr<LedPlaces>> led_;        ///< by track; null where the feel leads it
  std::vector<std::optional<Components>> next_places_; ///< by track: as told for the next frame
  std::vector<TrackPath> led_before_;                  ///< paths that readers may still refer to
  bool keeps_ = false;
  Kept kept_;
  std::optional<MeasureSink> sink_; ///< of the moves of what is kept
};

} // namespace stasis::embed
