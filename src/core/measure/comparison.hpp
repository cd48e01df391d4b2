// Several versions of one take side by side: their rows, their widest differences, what a designer would notice.
#pragma once

#include <memory>
#include <string>
#include <vector>

#include "core/measure/take_measures.hpp"
#include "core/number_column.hpp"

namespace stasis {

/// Every row of one component.
struct ComponentRows {
  NumberColumn smooth, goal;
  double last_velocity = 0.0;
};

/// Keeps every row of a take, by channel and component: those of a long one on a shelf, so that memory does not grow
/// with its length.
class RowsSink final : public BlockSink {
public:
  /// \param shelf may be null: then they lie in memory.
  explicit RowsSink(std::shared_ptr<const NumberShelf> shelf) : shelf_(std::move(shelf)) {}
  void begin(const Scene& scene) override;
  void consume(const Block& block) override;
  void end() override;

  std::vector<std::vector<ComponentRows>> take_rows() { return std::move(rows_); }

private:
  struct Writers {
    NumberColumnWriter smooth, goal;
  };
  std::shared_ptr<const NumberShelf> shelf_;
  std::vector<std::vector<Writers>> writers_;
  std::vector<std::vector<ComponentRows>> rows_;
};

/// One version of a take, played.
struct Contender {
  std::string name;
  const Feel* feel = nullptr;
  Scene scene;
  TakeMeasures measures;
  std::vector<std::vector<ComponentRows>> rows; ///< by the feel's own channels
};

/// \param shelf where the rows of a long take lie; null: in memory.
Contender play_contender(std::string name, const Feel& feel, const Take& take,
                         std::shared_ptr<const NumberShelf> shelf = nullptr);

/// A channel that every contender has, with as many components in each: its index in each contender's feel.
struct SharedChannel {
  std::string name;
  std::vector<std::size_t> index; ///< by contender
};
std::vector<SharedChannel> shared_channels(const std::vector<Contender>& contenders);

struct Gap {
  double size = 0.0;       ///< |b - a|, in the unit
  double difference = 0.0; ///< b - a
  double at = 0.0;         ///< s
};
/// Where component `component` of a channel differs most between two contenders, on the rows of the first; rows of a
/// contender with another clock are read straight between.
Gap widest_gap(const Contender& a, std::size_t channel_a, const Contender& b, std::size_t channel_b,
               std::size_t component);
/// A component's value at a time, straight between rows.
double value_at(const Contender& contender, std::size_t channel, std::size_t component, double time);
bool same_clock(const Contender& a, const Contender& b) noexcept;

/// The largest kick with which the channel's moves set off; see Move::start_kick.
std::optional<double> largest_kick(const Contender& contender, std::size_t channel);
/// How a channel's moves start: "jumps", "starts with a kick of 3.9", "starts softly", or "" where nothing moves.
std::string start_in_words(const Contender& contender, std::size_t channel);
/// What still moves when the take ends, or "".
std::string end_in_words(const Contender& contender, std::size_t channel);
/// What a designer would notice of `b` against `a`: one sentence per channel; "" where nothing differs.
std::string noticed(const Contender& a, const Contender& b, const SharedChannel& channel, std::size_t place_a,
                    std::size_t place_b);

} // namespace stasis
