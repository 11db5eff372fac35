# frozen_string_literal: true

require "digest"
require "json"

module Handrail
  module Store
    # One action that writes. A command is made from what was sent, and checks the form of it at
    # once; what may be is decided later, on the things as they stand under the lock.
    #
    #   class StrikeReading < VisitCommand
    #     input :reading, :id
    #     input :reason, :text, missing: "Say why it is struck out, for example: tape slipped."
    #
    #     def decide(visit) = Decision.insert(...)
    #   end
    #
    #   Ledger.new(visit, account, entry_key: key).run(StrikeReading.new("reading" => "12", "reason" => "tape
    #   slipped"))
    #
    # Its inputs become readers. A subclass says who may use it (`role`), see ROLES.
    class Command
      include Wording::OfCommands
      extend Wording::OfCommands

      ROLES = {
        anyone: %w[front_desk fitter senior],
        clinical: %w[fitter senior],
        senior: %w[senior]
      }.freeze

      NO_INPUTS = {}.freeze
      private_constant :NO_INPUTS

      class << self
        # Declares an input. name - in the form and as a reader; type and bounds - see Inputs; from
        # - the form's name where it is another one.
        def input(name, type, from: name, **bounds)
          (@inputs ||= {})[name] = [type, from.to_s, bounds]
          attr_reader name
        end

        # Who may use it: :anyone (who is signed in), :clinical or :senior.
        def role(name = nil)
          if name
            @role = name
          else
            @role || (superclass.respond_to?(:role) ? superclass.role : :clinical)
          end
        end

        # name => [type, where it comes from, bounds]; filled while the class is read
        def inputs = @inputs || NO_INPUTS

        # "take_reading"
        def key = @key ||= name[/\w+\z/].gsub(/([a-z])([A-Z])/, '\1_\2').downcase.freeze
      end

      # params - what was sent: names (Strings or Symbols) to values. Raises Faults with every field
      # that can not be read.
      def initialize(params = {})
        given = params.to_h.transform_keys(&:to_s)
        faults = {}
        @digest =
          Digest::SHA256.hexdigest(
            JSON.generate([self.class.key, given.slice(*self.class.inputs.values.map { |i| i[1] })])
          )
        self.class.inputs.each do |name, (type, from, bounds)|
          instance_variable_set(:"@#{name}", Inputs.read(type, given[from], from, **bounds))
        rescue Faults => e
          faults.merge!(e.fields)
        end
        raise(faults.one? ? Unacceptable.new(*faults.first) : Faults.new(faults)) if faults.any?
      rescue JSON::GeneratorError
        raise Unacceptable.new(self.class.inputs.values.dig(0, 1) || "form", t(:can_not_read_text))
      end

      # A digest of what was sent: the same entry sent twice has the same one.
      attr_reader :digest

      # Raises NotAllowed unless the account may.
      def authorize!(account)
        return if account.status_id == 2 && ROLES.fetch(self.class.role).include?(account.role)

        raise NotAllowed,
              self.class.role == :senior ? t(:only_senior_can_do) : t(:this_is_for_fitters)
      end

      private

      def unacceptable(field, message) = raise(Unacceptable.new(field, message))

      # Raises Faults with what is not nil.
      def refuse!(faults)
        faults = faults.compact
        raise(Faults, faults) if faults.any?
      end
    end
  end
end
